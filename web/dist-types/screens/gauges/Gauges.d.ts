/** Gauges & technicians: who measures and signs in, with which gauges. */
export declare function Gauges(): import("react").JSX.Element;
