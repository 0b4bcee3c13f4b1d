import type { VehicleDetail } from '@mile-mark/contract';
/** Records that pads or rotors were fitted: a new life begins for the axle's pads. */
export declare function RecordService({ vehicle, onClose }: {
    vehicle: VehicleDetail;
    onClose: () => void;
}): import("react").JSX.Element;
