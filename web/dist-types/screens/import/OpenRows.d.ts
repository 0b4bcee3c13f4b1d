/** The rows of an import that did not go in: mend and take each, dismiss it, or download them all. */
export declare function OpenRows({ id }: {
    id: string;
}): import("react").JSX.Element;
