import type { ReactNode } from 'react';
/** A screen, or a part of one, that has nothing to show: says why and what to do next. */
export declare function State({ title, what, quiet, children, }: {
    title: string;
    what: string;
    quiet?: boolean;
    children?: ReactNode;
}): import("react").JSX.Element;
