/** Ahead: what is coming, what must not run another week. */
export declare function Ahead(): import("react").JSX.Element;
