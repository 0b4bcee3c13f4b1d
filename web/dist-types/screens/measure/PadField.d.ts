import type { PadPlace, ThicknessUnit } from '@mile-mark/core';
import { type AxleDetail, type PadDetail } from '@mile-mark/contract';
import type { FieldState } from './judging.ts';
export type Answer = 'measured_twice' | 'leave_to_coordinator';
interface Props {
    place: PadPlace;
    pad: PadDetail | undefined;
    axle: AxleDetail;
    unit: ThicknessUnit;
    value: string;
    state: FieldState;
    error: string | undefined;
    answer: Answer | undefined;
    onChange: (value: string) => void;
    onAnswer: (answer: Answer) => void;
}
/** One pad's figure: what is expected stands beside it, a doubt is raised at once, with three answers. */
export declare function PadField({ place, pad, axle, unit, value, state, error, answer, onChange, onAnswer }: Props): import("react").JSX.Element;
export {};
