import { type InputHTMLAttributes, type SelectHTMLAttributes } from 'react';
interface Frame {
    label: string;
    /** What is wrong and what would be accepted. */
    error?: string | undefined;
    hint?: string | undefined;
    large?: boolean;
    hideLabel?: boolean;
}
/** A text field with its label, and what is wrong said at the field. */
export declare function Field({ label, error, hint, large, hideLabel, ...rest }: Frame & InputHTMLAttributes<HTMLInputElement>): import("react").JSX.Element;
/** A list to choose one from. */
export declare function Choose({ label, error, hint, large, hideLabel, children, ...rest }: Frame & SelectHTMLAttributes<HTMLSelectElement>): import("react").JSX.Element;
export {};
