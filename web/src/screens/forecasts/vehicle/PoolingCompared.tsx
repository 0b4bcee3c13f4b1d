import { DataTable } from '../../../ui/DataTable.tsx';
import { useState } from 'react';
import type { VehicleDetail } from '@mile-mark/contract/forecasts';
import { useWithoutPooling } from '../../../api/forecasts.ts';
import { Button } from '../../../ui/Button.tsx';
import { Heads } from '../../../ui/Heads.tsx';
import { daysBetween, formatDate } from '../../../ui/format.ts';

/** What pooling does to this vehicle's marks: beside each, where the last look alone, at face value, would put it. */
export function PoolingCompared({ vehicle }: { vehicle: VehicleDetail }) {
  const [open, setOpen] = useState(false);
  const compared = useWithoutPooling(vehicle.unit, open);
  return (
    <section>
      <div className="mb-1 flex items-baseline justify-between">
        <h2 className="font-semibold">What pooling does to the marks</h2>
        <Button look="bare" aria-expanded={open} onClick={() => setOpen(!open)}>
          {open ? 'Hide' : 'Compare without pooling'}
        </Button>
      </div>
      {!open && <p className="text-soft">Every reading by everybody counts, corrected and weighed.</p>}
      {open && compared.isPending && <p className="text-soft">Computing …</p>}
      {open && compared.isError && (
        <p role="alert" className="text-brick">
          {compared.error.message}
        </p>
      )}
      {open && compared.data && (
        <DataTable name="marks-without-pooling" className="figures w-full bg-sheet">
          <Heads names={['Axle', 'Mark, pooled', 'Last look alone', 'Difference', 'Last look']} />
          <tbody>
            {compared.data.axles.map((one) => {
              const mark = vehicle.axleDetails.find(({ axle }) => axle === one.axle)?.mark;
              const days = mark ? daysBetween(mark.markDate, one.markDate) : 0;
              return (
                <tr key={one.axle} className="border-b border-hair">
                  <td className="px-2 py-1">{one.axle}</td>
                  <td className="px-2 font-semibold whitespace-nowrap">
                    {mark ? formatDate(mark.markDate) : 'being computed'}
                  </td>
                  <td className="px-2 whitespace-nowrap">{formatDate(one.markDate)}</td>
                  <td className="px-2 whitespace-nowrap">
                    {days === 0 ? 'none' : `${Math.abs(days)} days ${days > 0 ? 'too late' : 'too early'}`}
                  </td>
                  <td className="px-2 font-sans text-soft">
                    {one.technician
                      ? `${one.technician}, ${one.gauge ?? ''}, ${formatDate(one.date ?? '')}`
                      : 'none since fitted'}
                  </td>
                </tr>
              );
            })}
          </tbody>
        </DataTable>
      )}
    </section>
  );
}
