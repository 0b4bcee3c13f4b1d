import type { MileMark } from '@mile-mark/contract';
import type { DueWindow } from '../../stores/aheadView.ts';
export interface Lane {
    unit: string;
    model: string;
    depot: string;
    odometerNowMi: number;
    /** The axles' marks, in order of axle. */
    marks: MileMark[];
    nearest: string;
}
export type RoadRow = {
    kind: 'depot';
    depot: string;
    lanes: number;
    due: number;
} | {
    kind: 'lane';
    lane: Lane;
};
interface Filter {
    depot: string;
    vehicleClass: string;
    due: DueWindow;
    find: string;
}
/** Lanes, one a vehicle, nearest mark first, that pass the filter. */
export declare function lanesOf(items: readonly MileMark[], filter: Filter, today: string): Lane[];
/** The rows of the road: each depot's heading, then its lanes. */
export declare function rowsOf(lanes: readonly Lane[], today: string): RoadRow[];
/** The axle of a lane whose mark comes first. */
export declare function nearestAxle(lane: Lane): number;
/** How many marks fall in each week from today; the first counts what is passed. */
export declare function marksByWeek(items: readonly MileMark[], today: string, weeks: number): number[];
export {};
