/** Width kept at the left for what is passed already. */
export declare const PASSED_PX = 56;
export interface RoadScale {
    width: number;
    days: number;
    /** Pixels from the road's left edge; what is passed or beyond is held at the edges. */
    x: (date: string) => number;
    months: {
        x: number;
        label: string;
    }[];
}
/** Time along the road: today at the end of the passed stretch, then so many months. */
export declare function roadScale(today: string, months: number, width: number): RoadScale;
