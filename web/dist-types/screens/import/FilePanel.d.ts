import type { ImportResult } from '@mile-mark/contract';
import { type Dropped } from './files.ts';
interface Props {
    file: Dropped;
    onChange: (part: Partial<Dropped>) => void;
    onDone: (result: ImportResult) => void;
    onOpenRows: (id: string) => void;
    nextName: string | undefined;
    onNext: () => void;
}
/** One file: how it is understood, what is still to be said, its rows, and taking it in. */
export declare function FilePanel({ file, onChange, onDone, onOpenRows, nextName, onNext }: Props): import("react").JSX.Element;
export {};
