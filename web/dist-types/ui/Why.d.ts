import type { ReactNode } from 'react';
/** A computed figure that can be asked why: a click shows inputs, formula in words, and source. */
export declare function Why({ children, label, reason }: {
    children: ReactNode;
    label: string;
    reason: ReactNode;
}): import("react").JSX.Element;
