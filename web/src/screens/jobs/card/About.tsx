import type { CardStep, JobCard, JobNeeds } from '@mile-mark/contract/jobs';
import { SEVERITY_WORDS, kitLineInWords } from '@mile-mark/contract/words';
import { useDefects } from '../../../api/jobs.ts';
import { formatDate } from '../../../ui/format.ts';
import { placeOf } from '../words.ts';

/** What a step is about where its words alone don’t tell: the complaints there are, the parts the job needs. */
export function About({ step, card }: { step: CardStep; card: JobCard }) {
  if (step.id === 'complaint') return <Complaints unit={card.job.unit} />;
  if (step.id === 'fluid level' && step.done) return <Verdict fluid={card.fluid} />;
  if (step.id.startsWith('stands')) return <p className="text-lg">{liftingInWords(card.needs)}</p>;
  return step.id === 'kit' ? <Kit needs={card.needs} /> : null;
}

function liftingInWords({ lifting: { points, grossKg } }: JobNeeds): string {
  const where = points ?? 'Lift at the points of the maker’s manual.';
  return `${where} Gross ${Math.round(grossKg).toLocaleString('en-US')} kg: jack and stands rated for the axle’s share of it.`;
}

/** What has to lie ready before anything is dismantled. */
function Kit({ needs }: { needs: JobNeeds }) {
  const axles = [...new Set(needs.kit.map(({ axle }) => axle))];
  const linesOf = (axle: number | null) => needs.kit.filter((line) => line.axle === axle).map(kitLineInWords);
  return (
    <div className="flex flex-col gap-1 text-lg">
      {axles.map((axle) => (
        <p key={axle ?? 'all'}>
          {axle === null ? 'At hand' : `Axle ${axle}`}: {linesOf(axle).join(', ')}.
        </p>
      ))}
      {needs.freshJoints.length > 0 && <p>New bolts: {needs.freshJoints.join(', ')}.</p>}
      {needs.tools.length > 0 && <p className="text-soft">Tools: {needs.tools.join(', ')}.</p>}
    </div>
  );
}

const VERDICTS: Record<string, string> = {
  'as worn': 'The level is explained by wear: nothing is topped up before the pads are in.',
  'topped up': 'The level is higher than wear explains: somebody topped it up, and it will overflow.',
  'leak suspected': 'The level is lower than wear explains: a leak until it is found. It stands as an open defect.',
};

/** What the level says, and how much to draw off. */
function Verdict({ fluid }: { fluid: JobCard['fluid'] }) {
  if (!fluid?.verdict) return null;
  return (
    <p
      className={`border-l-4 pl-3 text-lg ${fluid.verdict === 'leak suspected' ? 'border-brick font-semibold' : 'border-line'}`}
    >
      {VERDICTS[fluid.verdict]} Wear explains {Math.round(fluid.expectedMl)} mL.
      {!fluid.marksStated &&
        ` The reservoir is taken to hold ${fluid.betweenMarksMl} mL between its marks: nobody has said the model’s own.`}
      {(fluid.drawOffMl ?? 0) > 0 && ` Draw off ${Math.ceil(fluid.drawOffMl ?? 0)} mL before the pistons go home.`}
    </p>
  );
}

function Complaints({ unit }: { unit: string }) {
  const defects = useDefects();
  const own = (defects.data ?? []).filter((one) => one.unit === unit);
  if (own.length === 0)
    return (
      <p className="text-lg">{defects.data ? 'None is open.' : 'What is open can’t be read without a network.'}</p>
    );
  return (
    <ul className="text-lg">
      {own.map((one) => (
        <li key={one.id} className="border-b border-hair py-1">
          <strong>{[placeOf(one), one.text].filter(Boolean).join(': ')}</strong>
          {one.note && `, “${one.note}”`}{' '}
          <span className="text-soft">
            {SEVERITY_WORDS[one.severity]}, {one.saidBy}, {formatDate(one.foundOn)}
            {one.look.length > 0 && `; look at ${one.look.join(', ')}`}
          </span>
        </li>
      ))}
    </ul>
  );
}
