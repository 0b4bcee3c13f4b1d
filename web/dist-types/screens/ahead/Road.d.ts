import type { MileMark } from '@mile-mark/contract';
import { type RoadRow } from './lanes.ts';
import { type RoadScale } from './scale.ts';
export declare const LABEL_PX = 158;
interface Props {
    rows: RoadRow[];
    items: MileMark[];
    scale: RoadScale;
    today: string;
    distanceUnit: 'mi' | 'km';
    selected: {
        unit: string;
        axle: number;
    } | undefined;
    onSelect: (selected: {
        unit: string;
        axle: number;
    }) => void;
    onOpen: (unit: string) => void;
}
/** The road: a lane a vehicle, time to the right, a post at each axle's mile mark. Only what is seen is drawn. */
export declare function Road({ rows, items, scale, today, distanceUnit, selected, onSelect, onOpen }: Props): import("react").JSX.Element;
export {};
