import { type Me, type Reading } from '@mile-mark/contract';
/** Supersedes a reading with a reason, or withdraws it; the old one stays to be seen, struck through. */
export declare function CorrectReading({ reading, me, onClose }: {
    reading: Reading;
    me: Me;
    onClose: () => void;
}): import("react").JSX.Element;
