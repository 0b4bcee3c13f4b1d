/** One vehicle: its wheel ends, wear lines, readings, duty and services. */
export declare function Vehicle(): import("react").JSX.Element;
