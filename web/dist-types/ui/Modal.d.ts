import type { ReactNode } from 'react';
/** A sheet over the screen; Esc and the button close it. */
export declare function Modal({ open, onClose, title, children, }: {
    open: boolean;
    onClose: () => void;
    title: string;
    children: ReactNode;
}): import("react").JSX.Element;
