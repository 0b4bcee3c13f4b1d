import type { ImportNeed, ImportPreview, Understanding } from '@mile-mark/contract/imports';
import { countInWords } from '@mile-mark/contract/words';
import { Choose } from '../../ui/Choose.tsx';
import { AskGauge } from './AskGauge.tsx';
import { AskOption } from './AskOption.tsx';
import { AskWho } from './AskWho.tsx';

interface Props {
  preview: ImportPreview;
  onState: (part: Partial<Understanding>) => void;
}

/** In which order it is asked: what the whole file hangs on first. */
const ORDER = [
  'column',
  'dateOrder',
  'distanceUnit',
  'thicknessUnit',
  'lengthUnit',
  'massUnit',
  'pad',
  'wheel',
  'technician',
  'person',
  'gauge',
];

/** What the sheet doesn't say and a person must: columns, units and orders nothing decides, who measured, with what. */
export function Needs({ preview, onState }: Props) {
  const { needs } = preview;
  if (needs.length === 0) return null;
  const inOrder = [...needs].sort((a, b) => ORDER.indexOf(a.kind) - ORDER.indexOf(b.kind));
  const wheels = needs.filter(({ kind }) => kind === 'wheel');
  const pick = (need: ImportNeed) => (value: string) => onState(answerTo(need, value));
  return (
    <section
      aria-labelledby="to-answer"
      className="flex max-h-[60vh] max-sm:max-h-none shrink-0 flex-col gap-3 overflow-y-auto border-b border-[#c99700] bg-paint/20 px-4 py-2"
    >
      <h2 id="to-answer" className="text-soft">
        {countInWords(needs.length, 'answer')} wanted before it can be taken in; the rows below are read as far as that
        goes.
      </h2>
      {inOrder
        .filter((need) => need.kind !== 'wheel' || need === wheels[0])
        .map((need) =>
          need.kind === 'wheel' ? (
            <AskWheels key="wheels" wheels={wheels} onPick={(wheel, value) => pick(wheel)(value)} />
          ) : (
            <Ask key={`${need.kind} ${need.name ?? ''}`} need={need} preview={preview} onPick={pick(need)} />
          ),
        )}
    </section>
  );
}

/** Names of wheels that nobody but the sheet's own people know, side by side. */
function AskWheels({
  wheels,
  onPick,
}: {
  wheels: readonly ImportNeed[];
  onPick: (wheel: ImportNeed, value: string) => void;
}) {
  return (
    <div className="flex flex-wrap items-end gap-3">
      <p className="w-72 font-medium">Which wheels are these? It is remembered with such sheets.</p>
      {wheels.map((wheel) => (
        <div key={wheel.name} className="w-40">
          <Choose
            label={`“${wheel.name}” is`}
            value=""
            onChange={(event) => event.target.value && onPick(wheel, event.target.value)}
          >
            <option value="">Choose …</option>
            {wheel.options.map(({ value, label }) => (
              <option key={value} value={value}>
                {label}
              </option>
            ))}
          </Choose>
        </div>
      ))}
    </div>
  );
}

function Ask({ need, preview, onPick }: { need: ImportNeed; preview: ImportPreview; onPick: (value: string) => void }) {
  const { kind, name, message } = need;
  if (kind === 'column')
    return <p className="font-medium">{message} Choose it below, under “How it was understood”.</p>;
  if (kind === 'technician' || kind === 'person') return <AskWho {...{ name, message, onPick }} />;
  if (kind === 'gauge') return <AskGauge {...{ name, message, preview, onPick }} />;
  return <AskOption {...{ need, onPick }} />;
}

/** An answer as the part of the understanding that it states; names are added to those answered before. */
function answerTo({ kind, name }: ImportNeed, value: string): Partial<Understanding> {
  switch (kind) {
    case 'technician':
      return { technicianId: value };
    case 'person':
      return { personNames: { [name ?? '']: value } };
    case 'gauge':
      return name === null ? { gaugeId: value } : { gaugeNames: { [name]: value } };
    case 'wheel':
      return { wheelNames: { [name ?? '']: placeOf(value) } };
    default:
      return { [kind]: value };
  }
}

/** A place as the options of wheels name it: `1:left`, `rear:right`. */
export function placeOf(value: string): Understanding['wheelNames'][string] {
  const [axle = '', side] = value.split(':');
  return { axle: axle === 'rear' ? 'rear' : Number(axle), side: side === 'left' ? 'left' : 'right' };
}
