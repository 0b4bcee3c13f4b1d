/** A screen that failed: says what happened and what to do next. */
export declare function Broken(): import("react").JSX.Element;
