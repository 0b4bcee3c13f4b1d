/** Measure: choose a vehicle, then enter one inspection wheel by wheel. Dark, for the bay. */
export declare function Measure(): import("react").JSX.Element;
