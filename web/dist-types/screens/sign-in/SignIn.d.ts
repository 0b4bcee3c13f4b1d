/** Sign-in; where nobody has an account yet, the first person makes one. */
export declare function SignIn(): import("react").JSX.Element;
