import type { MileMark } from '@mile-mark/contract';
import type { RoadScale } from './scale.ts';
export declare const LANE_PX = 36;
/** A post stands at the mile mark of an axle; its tail runs to the late end of the 80 % interval. */
export declare function Post({ mark, scale, selected, onSelect, today, }: {
    mark: MileMark;
    scale: RoadScale;
    selected: boolean;
    onSelect: (selected: {
        unit: string;
        axle: number;
    }) => void;
    today: string;
}): import("react").JSX.Element;
