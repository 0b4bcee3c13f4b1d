/** Import: files in, each shown as it was understood, taken in row by row or left to be mended. */
export declare function Import(): import("react").JSX.Element;
