import { type Me, type MileMark } from '@mile-mark/contract';
/** Why this date: the chain from the mark back to readings, rate, duty and limit, and the one thing to do next. */
export declare function WhyPanel({ mark, me, today, riskTarget, }: {
    mark: MileMark | undefined;
    me: Me;
    today: string;
    riskTarget: number;
}): import("react").JSX.Element;
