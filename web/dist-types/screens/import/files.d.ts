import { type ImportKind, type ImportRequest, type ImportResult, type RowChoice, type Understanding } from '@mile-mark/contract';
/** A file a person dropped, on its way in. */
export interface Dropped {
    id: string;
    name: string;
    contentBase64: string;
    kind: ImportKind;
    /** What the person changed or said about how the file is read. */
    stated: Partial<Understanding>;
    edits: Record<string, string[]>;
    choices: Record<string, RowChoice>;
    result?: ImportResult;
}
export interface Rejected {
    name: string;
    message: string;
}
/** Reads dropped files and finds what kind each is; one too large, or unreadable, is told and left. */
export declare function readFiles(files: readonly File[]): Promise<{
    dropped: Dropped[];
    rejected: Rejected[];
}>;
export declare function requestOf(file: Dropped): ImportRequest;
