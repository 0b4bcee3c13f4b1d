import type { ImportPreview, Understanding } from '@mile-mark/contract';
/** How the file was understood, in a line; opened, every part can be changed. */
export declare function UnderstandingPanel({ preview, onState, }: {
    preview: ImportPreview;
    onState: (part: Partial<Understanding>) => void;
}): import("react").JSX.Element;
