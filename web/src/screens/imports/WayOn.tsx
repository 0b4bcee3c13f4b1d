import { countInWords } from '@mile-mark/contract/words';
import { Link } from 'react-router';
import { useFleet, useModels } from '../../api/register.ts';

const LINK = 'rounded-sm border border-[#c99700] bg-paint px-3 py-1.5 font-semibold text-[#26282a]';

/** After the last file: what is still wanting for mile marks, and where they are. */
export function WayOn() {
  const models = useModels();
  const fleet = useFleet();
  if (!models.data || !fleet.data) return null;
  const here = fleet.data.filter(({ left }) => left === null);
  const wanting =
    models.data.length === 0
      ? 'No model is on record yet: a list of models, with pads and limits, comes first.'
      : here.length === 0
        ? 'No vehicle is on record yet: a list of vehicles comes next, then readings.'
        : unmeasured(here.filter(({ lastLook }) => lastLook === null).length, here.length);
  return (
    <div className="flex flex-col items-center gap-3">
      {wanting && <p className="max-w-md">{wanting}</p>}
      {here.length > 0 && (
        <Link className={LINK} to="/">
          See what is next on Ahead
        </Link>
      )}
    </div>
  );
}

function unmeasured(count: number, of: number): string | null {
  if (count === 0) return null;
  const marks = count === 1 ? 'its mark rests' : 'their marks rest';
  return `${count === of ? 'No vehicle was measured yet' : `${countInWords(count, 'vehicle')} of ${of} ${count === 1 ? 'was' : 'were'} never measured`}: ${marks} on model and duty alone until a look.`;
}
