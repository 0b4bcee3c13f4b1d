import type { ImportPreview, Understanding } from '@mile-mark/contract';
interface Props {
    needs: ImportPreview['needs'];
    preview: ImportPreview;
    stated: Understanding;
    onState: (part: Partial<Understanding>) => void;
}
/** What the sheet doesn't say and a person must: who measured, with which gauge. */
export declare function Needs({ needs, preview, stated, onState }: Props): import("react").JSX.Element | null;
export {};
