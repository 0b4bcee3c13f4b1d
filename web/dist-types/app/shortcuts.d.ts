export declare const SHORTCUTS: {
    keys: string;
    does: string;
}[];
