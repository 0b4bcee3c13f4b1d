/** How many months the road shows. */
export declare const REACHES: readonly [3, 6, 12, 24];
export type Reach = (typeof REACHES)[number];
export type DueWindow = 'any' | 'passed' | '4 weeks' | '3 months';
interface AheadView {
    depot: string;
    vehicleClass: string;
    due: DueWindow;
    find: string;
    reach: Reach;
    selected: {
        unit: string;
        axle: number;
    } | undefined;
    set: (change: Partial<Omit<AheadView, 'set'>>) => void;
}
/** What the coordinator looks at on Ahead; kept while other screens are open. */
export declare const useAheadView: import("zustand").UseBoundStore<import("zustand").StoreApi<AheadView>>;
export {};
