/** Friction material left between limit and new, 0 to 1. */
export declare function shareLeft(mm: number, limitMm: number, newMm: number): number;
/** How wear is coloured, and the word that stands with it: colour never speaks alone. */
export declare function wearLook(share: number): {
    colour: string;
    word: string;
};
