import { type Me, type Reading, type VehicleDetail } from '@mile-mark/contract';
interface Props {
    vehicle: VehicleDetail;
    me: Me;
    onCorrect: ((reading: Reading) => void) | undefined;
}
/** Every reading on record, a line an inspection and axle, the wheels side by side; nothing is left out. */
export declare function ReadingsTable({ vehicle, me, onCorrect }: Props): import("react").JSX.Element;
export {};
