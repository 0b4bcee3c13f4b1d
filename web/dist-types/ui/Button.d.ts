import type { ButtonHTMLAttributes } from 'react';
interface Props extends ButtonHTMLAttributes<HTMLButtonElement> {
    /** `next`: the one thing to do; `plain`: everything else; `bare`: within text and tables. */
    look?: 'next' | 'plain' | 'bare';
    /** Key that does the same, shown on the button. */
    hotkey?: string;
    /** For gloves: at least 48 px. */
    large?: boolean;
}
export declare function Button({ look, hotkey, large, className, children, type, ...rest }: Props): import("react").JSX.Element;
export {};
