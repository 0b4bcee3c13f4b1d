import type { Me, VehicleDetail } from '@mile-mark/contract';
/** The vehicle's duties by dates, with their brake work; the past keeps its duty. */
export declare function DutySection({ vehicle, me }: {
    vehicle: VehicleDetail;
    me: Me;
}): import("react").JSX.Element;
