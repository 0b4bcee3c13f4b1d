import type { AxleDetail, Me, Reading } from '@mile-mark/contract';
/** The wear lines of an axle's four pads, with the thinnest pad's interval, the limit and the road to the mark. */
export declare function WearChart({ axle, readings, me, riskTarget, }: {
    axle: AxleDetail;
    readings: Reading[];
    me: Me;
    riskTarget: number;
}): import("react").JSX.Element | null;
