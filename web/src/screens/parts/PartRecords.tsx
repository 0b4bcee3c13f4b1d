import { rateRangeInWords } from '@mile-mark/contract/words';
import { usePartRecords } from '../../api/parts.ts';
import { useMe } from '../../api/people.ts';
import { useReader } from '../../api/reader.ts';
import { DataTable } from '../../ui/DataTable.tsx';
import { Heads } from '../../ui/Heads.tsx';
import { State } from '../../ui/State.tsx';

/** What each pad number did on the road, so that one maker is held against another by the fleet's own wear. */
export function PartRecords() {
  const me = useMe();
  const reader = useReader();
  const records = usePartRecords();
  if (records.isPending) return <State title="Loading" what="Fetching what parts did." quiet />;
  if (records.isLoadingError) return <State title="The record couldn’t load" what={records.error.message} />;
  if (records.data.length === 0)
    return (
      <State
        title="Nothing to hold against each other yet"
        what="Pads that are picked for a job and fitted show here how they wear."
        quiet
      />
    );
  return (
    <section aria-label="What lasted">
      <p className="mb-2 max-w-3xl text-soft">
        Sets that are on the road now, by the forecasts’ own estimate of what they wore since they were fitted, over
        miles weighed by duty: what a set would wear on its model’s reference duty. The range holds the mean with 80 %;
        of one set none can be told. Where two ranges overlap, the fleet has not settled it.
      </p>
      <DataTable name="what-lasted" className="w-full text-left">
        <Heads
          names={['Model, axle', 'Part', 'Maker', 'Sets, driven', 'Wears on reference duty', 'Pads, a mile', 'Failed']}
        />
        <tbody>
          {[...records.data]
            .sort((a, b) => `${a.model}${a.axle}${a.part}`.localeCompare(`${b.model}${b.axle}${b.part}`))
            .map((one) => (
              <tr key={`${one.part}/${one.model}/${one.axle}`} className="border-b border-hair">
                <td className="py-1 px-2">
                  {one.model}, axle {one.axle}
                </td>
                <td className="figures px-2">{one.part}</td>
                <td className="px-2">{one.maker}</td>
                <td className="figures px-2">
                  {one.sets}, {reader.miles(one.miles)}
                </td>
                <td className="figures px-2">
                  {one.rate === null ? (
                    <span className="font-sans text-soft">too few to tell</span>
                  ) : (
                    rateRangeInWords(one.rate, me)
                  )}
                </td>
                <td className="figures px-2">
                  {one.costPerMileMinor === null
                    ? ''
                    : `${(one.costPerMileMinor / 100).toFixed(4)} ${one.currency ?? ''}`}
                </td>
                <td className="figures">{one.failures}</td>
              </tr>
            ))}
        </tbody>
      </DataTable>
    </section>
  );
}
