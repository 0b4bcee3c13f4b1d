interface Props<T extends string> {
    label: string;
    value: T;
    options: readonly T[] | readonly {
        value: T;
        label: string;
    }[];
    onChange: (value: T) => void;
    hideLabel?: boolean;
}
/** A few options side by side, one chosen. */
export declare function Pick<T extends string>({ label, value, options, onChange, hideLabel }: Props<T>): import("react").JSX.Element;
export {};
