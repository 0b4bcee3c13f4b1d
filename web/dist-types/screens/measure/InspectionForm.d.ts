import type { Me, VehicleDetail } from '@mile-mark/contract';
/** One inspection of a vehicle: who, when, odometer and gauge once, then the pads in walking order. */
export declare function InspectionForm({ vehicle, me }: {
    vehicle: VehicleDetail;
    me: Me;
}): import("react").JSX.Element;
