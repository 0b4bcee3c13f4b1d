import type { MileMark } from '@mile-mark/contract';
/** The one thing to do next about an axle, and why. */
export declare function nextThing(mark: MileMark, today: string, riskTarget: number): {
    what: string;
    because: string;
};
