import type { ImportPreview, Outcome, RowChoice } from '@mile-mark/contract';
interface Props {
    preview: ImportPreview;
    shown: Outcome | 'all';
    choices: Record<string, RowChoice>;
    edits: Record<string, string[]>;
    onChoice: (line: number, choice: RowChoice) => void;
    onEdit: (line: number, cells: string[]) => void;
}
/** The rows of a file, those that need a look first; only what is seen is drawn. */
export declare function Rows({ preview, shown, choices, edits, onChoice, onEdit }: Props): import("react").JSX.Element;
export {};
