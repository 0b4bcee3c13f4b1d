/** An address that leads nowhere. */
export declare function Lost(): import("react").JSX.Element;
