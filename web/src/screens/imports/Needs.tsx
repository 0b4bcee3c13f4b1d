import type { ImportNeed, ImportPreview, Understanding } from '@mile-mark/contract/imports';
import { AskGauge } from './AskGauge.tsx';
import { AskOption } from './AskOption.tsx';
import { AskWho } from './AskWho.tsx';

interface Props {
  preview: ImportPreview;
  onState: (part: Partial<Understanding>) => void;
}

/** What the sheet doesn't say and a person must: columns, units and orders nothing decides, who measured, with what. */
export function Needs({ preview, onState }: Props) {
  const { needs, understanding } = preview;
  if (needs.length === 0) return null;
  const columns = needs.filter(({ kind }) => kind === 'column');
  return (
    <section
      aria-label="To be answered"
      className="flex max-h-[45vh] shrink-0 flex-col gap-3 overflow-y-auto border-b border-[#c99700] bg-paint/20 px-4 py-3"
    >
      {columns.map(({ name, message }) => (
        <p key={`${name}${message}`} className="font-medium">
          {message} Choose it below, under “How it was understood”.
        </p>
      ))}
      {needs.map((need) => (
        <Ask
          key={`${need.kind} ${need.name ?? ''}`}
          need={need}
          preview={preview}
          onPick={(value) => onState(answerTo(need, value, understanding))}
        />
      ))}
    </section>
  );
}

function Ask({ need, preview, onPick }: { need: ImportNeed; preview: ImportPreview; onPick: (value: string) => void }) {
  const { kind, name, message } = need;
  if (kind === 'column') return null;
  if (kind === 'technician' || kind === 'person') return <AskWho {...{ name, message, onPick }} />;
  if (kind === 'gauge') return <AskGauge {...{ name, message, preview, onPick }} />;
  return <AskOption {...{ need, onPick }} />;
}

/** An answer as the part of the understanding that it states. */
function answerTo({ kind, name }: ImportNeed, value: string, now: Understanding): Partial<Understanding> {
  switch (kind) {
    case 'technician':
      return { technicianId: value };
    case 'person':
      return { personNames: { ...now.personNames, [name ?? '']: value } };
    case 'gauge':
      return name === null ? { gaugeId: value } : { gaugeNames: { ...now.gaugeNames, [name]: value } };
    case 'wheel':
      return { wheelNames: { ...now.wheelNames, [name ?? '']: placeOf(value) } };
    default:
      return { [kind]: value };
  }
}

/** A place as the options of wheels name it: `1:left`, `rear:right`. */
export function placeOf(value: string): Understanding['wheelNames'][string] {
  const [axle = '', side] = value.split(':');
  return { axle: axle === 'rear' ? 'rear' : Number(axle), side: side === 'left' ? 'left' : 'right' };
}
