import { type ReactNode } from 'react';
import type { ImportRow } from '@mile-mark/contract';
/** A row's cells to be mended in place, with each reason said under them and what would mend it one click away. */
export declare function RowEditor({ row, header, onEdit, children, }: {
    row: ImportRow;
    header: string[];
    onEdit: (cells: string[]) => void;
    children?: ReactNode;
}): import("react").JSX.Element;
