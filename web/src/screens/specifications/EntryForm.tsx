import { type FormEvent, useMemo, useState } from 'react';
import { toast } from 'sonner';
import {
  type Confirmed,
  jointDoubtInWords,
  type JointKindRow,
  type Source,
  type SpecificationValues,
  torqueInOtherUnit,
  torqueInWords,
} from '@mile-mark/contract/specifications';
import { ApiProblem } from '../../api/client.ts';
import { useAddRevision } from '../../api/specifications.ts';
import { Button } from '../../ui/Button.tsx';
import { Field } from '../../ui/Field.tsx';
import { Modal } from '../../ui/Modal.tsx';
import { Tick } from '../../ui/Tick.tsx';
import { useNewId } from '../../ui/useNewId.ts';
import { AxleFields } from './AxleFields.tsx';
import { JointFields } from './JointFields.tsx';
import {
  type AxleDraft,
  axleDraftOf,
  type JointDraft,
  jointDraftOf,
  readAxle,
  type ReadDraft,
  readJoint,
  readSource,
} from './draft.ts';

/** Which specification is entered, and what it begins with. */
export interface Entering {
  modelId: string;
  model: string;
  axle: number;
  /** Null for the axle as a whole. */
  kind: JointKindRow | null;
  position: string;
  from: { values: SpecificationValues; source: Source } | undefined;
}

const NO_SOURCE: Source = { document: '', page: '', revision: '', date: '' };

/** One revision, typed from the maker's document; it counts once somebody else has released it. */
export function EntryForm({ entering, onClose }: { entering: Entering; onClose: () => void }) {
  const { kind, from } = entering;
  const add = useAddRevision();
  const [id] = useNewId();
  const [joint, setJoint] = useState<JointDraft>(() =>
    jointDraftOf(from?.values.about === 'joint' ? from.values : undefined),
  );
  const [axle, setAxle] = useState<AxleDraft>(() =>
    axleDraftOf(from?.values.about === 'axle' ? from.values : undefined),
  );
  const [position, setPosition] = useState(entering.position);
  const [source, setSource] = useState<Source>(from?.source ?? NO_SOURCE);
  const [confirmed, setConfirmed] = useState<Confirmed[]>([]);
  const [tried, setTried] = useState(false);
  const read: ReadDraft = useMemo(() => (kind ? readJoint(joint, kind.hollow) : readAxle(axle)), [kind, joint, axle]);
  const sourceWrong = readSource(source);
  const refused = add.error instanceof ApiProblem ? add.error : undefined;
  const shown = (field: string) => read.wrong[field] ?? refused?.of(`values.${field}`);
  const unasked = read.questions.filter(({ code }) => !confirmed.includes(code));
  const submit = (event: FormEvent) => {
    event.preventDefault();
    setTried(true);
    if (!read.values || Object.keys(sourceWrong).length > 0 || unasked.length > 0) return;
    add.mutate(
      {
        id,
        modelId: entering.modelId,
        axle: entering.axle,
        jointKindId: kind?.id ?? null,
        position: position.trim(),
        values: read.values,
        source,
        confirmed,
      },
      {
        onSuccess: () => {
          toast('Entered. It counts once somebody else has typed and released it.');
          onClose();
        },
      },
    );
  };
  const name = kind?.name ?? 'Limits, fluid, bed-in';
  return (
    <Modal open wide onClose={onClose} title={`${entering.model}, axle ${entering.axle}: ${name}`}>
      <form className="flex flex-col gap-4" onSubmit={submit}>
        <p className="text-soft">
          From the maker’s document, exactly as it stands there. What the document does not say stays blank and shows as
          unknown.
        </p>
        {kind ? (
          <JointFields
            draft={joint}
            shown={shown}
            wrong={read.wrong}
            position={position}
            onPosition={from ? undefined : setPosition}
            onChange={(change) => setJoint({ ...joint, ...change })}
          />
        ) : (
          <AxleFields draft={axle} shown={shown} onChange={(change) => setAxle({ ...axle, ...change })} />
        )}
        <Understood read={read} confirmed={confirmed} onConfirm={setConfirmed} />
        <WhereItStands
          source={source}
          wrong={(field) => (tried ? (sourceWrong[field] ?? refused?.of(`source.${field}`)) : undefined)}
          onChange={(change) => setSource({ ...source, ...change })}
        />
        {add.isError && (
          <p role="alert" className="font-medium text-brick">
            {add.error.message}
          </p>
        )}
        {tried && unasked.length > 0 && (
          <p role="alert" className="font-medium text-brick">
            Confirm what is questioned above, or correct it.
          </p>
        )}
        <div>
          <Button look="next" type="submit" disabled={add.isPending}>
            Enter it
          </Button>
        </div>
      </form>
    </Modal>
  );
}

interface UnderstoodProps {
  read: ReadDraft;
  confirmed: Confirmed[];
  onConfirm: (confirmed: Confirmed[]) => void;
}

/** What was typed in the other unit, what contradicts itself, and what is odd until somebody says it is so. */
function Understood({ read, confirmed, onConfirm }: UnderstoodProps) {
  return (
    <>
      {read.values?.about === 'joint' && read.values.torque && (
        <p role="status" className="figures text-lg">
          <strong>{torqueInWords(read.values.torque)}</strong> is {torqueInOtherUnit(read.values.torque, 0.1)}
        </p>
      )}
      {read.conflict && (
        <p role="status" className="border-l-4 border-ink bg-raised px-3 py-1">
          {read.conflict}
        </p>
      )}
      {read.questions.map((doubt) => (
        <Tick
          key={doubt.code}
          className="border-l-4 border-ink bg-raised px-3 py-2"
          checked={confirmed.includes(doubt.code)}
          onChange={(checked) =>
            onConfirm(checked ? [...confirmed, doubt.code] : confirmed.filter((code) => code !== doubt.code))
          }
        >
          <span>
            {jointDoubtInWords(doubt)} <strong>Yes, the document says so.</strong>
          </span>
        </Tick>
      ))}
    </>
  );
}

interface WhereProps {
  source: Source;
  wrong: (field: keyof Source) => string | undefined;
  onChange: (change: Partial<Source>) => void;
}

function WhereItStands({ source, wrong, onChange }: WhereProps) {
  return (
    <fieldset className="grid grid-cols-[2fr_1fr_1fr_1fr] gap-3">
      <legend className="mb-1 font-semibold">Where it stands</legend>
      {(['document', 'page', 'revision', 'date'] as const).map((field) => (
        <Field
          key={field}
          label={{ document: 'Document', page: 'Page', revision: 'Its revision', date: 'Its date' }[field]}
          type={field === 'date' ? 'date' : 'text'}
          value={source[field]}
          error={wrong(field)}
          onChange={(event) => onChange({ [field]: event.target.value })}
        />
      ))}
    </fieldset>
  );
}
