import { type BenchOfVehicle, readinessOf } from '@mile-mark/contract/specifications';
import { Why } from '../../../ui/Why.tsx';

/** Whether every joint of the axle is known, and in reach of its depot's bench. */
export function Torques({ bench, axle, today }: { bench: BenchOfVehicle; axle: number; today: string }) {
  const own = bench.model.axles.find((one) => one.axle === axle);
  if (!own) return <>unknown</>;
  const { released, unknown, unreachable } = readinessOf(own, bench.tools, today);
  const [first] = unreachable;
  return (
    <>
      {released} {released === 1 ? 'joint' : 'joints'} released
      {unknown.length > 0 && <strong>; unknown: {unknown.join(', ')}</strong>}
      {first ? (
        <>
          ;{' '}
          <Why
            label="Not in reach of this bench"
            reason={unreachable.map(({ joint, torque, need }) => (
              <p key={joint}>
                {joint}, {torque}. {need}
              </p>
            ))}
          >
            <strong>
              {bench.depot} has no wrench for {first.torque}
            </strong>
          </Why>
        </>
      ) : (
        released > 0 && `, every one in reach at ${bench.depot}`
      )}
    </>
  );
}
