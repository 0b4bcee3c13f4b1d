/** Frame of every screen after sign-in: the places, today, who is signed in, and the shortcuts. */
export declare function Shell(): import("react").JSX.Element;
