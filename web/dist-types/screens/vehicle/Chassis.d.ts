import { type Me, type VehicleDetail } from '@mile-mark/contract';
interface Props {
    vehicle: VehicleDetail;
    me: Me;
    selected: number;
    onSelect: (axle: number) => void;
}
/** The vehicle from above, front at the top: its wheel ends at their places along the chassis. */
export declare function Chassis({ vehicle, me, selected, onSelect }: Props): import("react").JSX.Element;
export {};
