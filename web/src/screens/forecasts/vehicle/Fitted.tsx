import { mayDo } from '@mile-mark/contract';
import type { VehicleDetail } from '@mile-mark/contract/forecasts';
import type { Me } from '@mile-mark/contract/people';
import { milesInWords } from '@mile-mark/contract/words';
import { useState } from 'react';
import { Link } from 'react-router';
import { toast } from 'sonner';
import { useWithdrawService } from '../../../api/inspections.ts';
import { useChangedSince } from '../../../api/specifications.ts';
import { Button } from '../../../ui/Button.tsx';
import { formatDate } from '../../../ui/format.ts';
import { Withdraw } from './Withdraw.tsx';

type Service = VehicleDetail['services'][number];

/** What was fitted on a vehicle, and taken back where it was not so. */
export function Fitted({ vehicle, me }: { vehicle: VehicleDetail; me: Me }) {
  const [withdrawing, setWithdrawing] = useState<Service>();
  return (
    <section aria-labelledby="fitted">
      <h2 id="fitted" className="mb-1 font-semibold">
        Pads and rotors fitted
      </h2>
      {vehicle.services.length === 0 ? (
        <p className="text-soft">None on record.</p>
      ) : (
        <ul>
          {vehicle.services.map((service) => (
            <li key={service.id} className="flex items-baseline gap-4 border-b border-hair py-1">
              <span className="figures w-24">{formatDate(service.date)}</span>
              <span className="figures w-24">{milesInWords(service.odometerMi, me.distanceUnit)}</span>
              <span>
                Axle {service.axle}: {service.fitted}, both sides
              </span>
              <ChangedNote serviceId={service.id} />
              <span className="ml-auto text-soft">{service.recordedBy}</span>
              {mayDo(me.role, 'correctOthers') && (
                <Button
                  look="bare"
                  aria-label={`Withdraw axle ${service.axle}, ${service.fitted}, ${formatDate(service.date)}`}
                  onClick={() => setWithdrawing(service)}
                >
                  Withdraw …
                </Button>
              )}
            </li>
          ))}
        </ul>
      )}
      {withdrawing && (
        <WithdrawService of={vehicle.unit} service={withdrawing} onClose={() => setWithdrawing(undefined)} />
      )}
    </section>
  );
}

function WithdrawService({ of, service, onClose }: { of: string; service: Service; onClose: () => void }) {
  const withdraw = useWithdrawService();
  const done = () => {
    toast(`Withdrawn: axle ${service.axle} of ${of} goes on with the life it had; its mark is computed anew.`);
    onClose();
  };
  return (
    <Withdraw
      title={`Not fitted on ${of} on ${formatDate(service.date)}`}
      error={withdraw.error}
      pending={withdraw.isPending}
      onWithdraw={(part) => withdraw.mutate({ serviceId: service.id, ...part }, { onSuccess: done })}
      onClose={onClose}
    >
      <p>
        Axle {service.axle}: {service.fitted}, recorded by {service.recordedBy}. Withdrawn, the axle goes on with the
        pads it had before, and the record keeps who withdrew it and why. Fitted otherwise, record it anew.
      </p>
    </Withdraw>
  );
}

/** What was tightened then by a specification that has changed since. */
function ChangedNote({ serviceId }: { serviceId: string }) {
  const own = useChangedSince().data?.filter((one) => one.serviceId === serviceId && one.doneAgainOn === null) ?? [];
  if (own.length === 0) return null;
  return (
    <Link className="font-medium text-ochre underline" to="/specifications?view=changed">
      {own.map(({ joint }) => joint).join(', ')}: changed since
    </Link>
  );
}
