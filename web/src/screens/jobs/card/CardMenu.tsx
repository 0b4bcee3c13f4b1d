import { useState } from 'react';
import { toast } from 'sonner';
import type { JobCard } from '@mile-mark/contract/jobs';
import type { Me } from '@mile-mark/contract/people';
import type { NewEntry } from '../../../stores/card.ts';
import { Button } from '../../../ui/Button.tsx';
import { Choose } from '../../../ui/Choose.tsx';
import { Field } from '../../../ui/Field.tsx';
import { Modal } from '../../../ui/Modal.tsx';
import { figure } from '../../../api/typed.ts';

interface Props {
  card: JobCard;
  me: Me;
  onClose: () => void;
  write: (...entries: NewEntry[]) => Promise<void>;
}

/** Says something of the job, and closes. */
type Say = (words: string, entry: NewEntry) => Promise<void>;

/** What is said of the job besides its steps: a part asked for, a note, pause, hand-over. */
export function CardMenu({ card, me, onClose, write }: Props) {
  const say: Say = async (words, entry) => {
    await write(entry);
    toast(words);
    onClose();
  };
  return (
    <Modal open onClose={onClose} title={`Besides the steps, ${card.job.unit}`}>
      <div className="flex flex-col gap-5">
        <AskPart say={say} />
        <AddNote say={say} />
        <HandOver people={card.people.filter(({ id }) => id !== me.id)} say={say} />
        <Rest mine={card.holder === me.name} say={say} />
        <Said card={card} />
      </div>
    </Modal>
  );
}

function AskPart({ say }: { say: Say }) {
  const [part, setPart] = useState({ what: '', quantity: '1' });
  const quantity = figure(part.quantity);
  return (
    <form
      className="grid grid-cols-[1fr_6rem_auto] items-end gap-2"
      onSubmit={(event) => {
        event.preventDefault();
        void say(`${quantity} × ${part.what} asked for.`, { kind: 'part', what: part.what, quantity });
      }}
    >
      <Field
        large
        label="A part is needed"
        required
        minLength={2}
        value={part.what}
        onChange={(event) => setPart({ ...part, what: event.target.value })}
      />
      <Field
        large
        label="How many"
        type="number"
        min={1}
        max={99}
        required
        value={part.quantity}
        onChange={(event) => setPart({ ...part, quantity: event.target.value })}
      />
      <Button large type="submit">
        Ask
      </Button>
    </form>
  );
}

function AddNote({ say }: { say: Say }) {
  const [note, setNote] = useState('');
  return (
    <form
      className="grid grid-cols-[1fr_auto] items-end gap-2"
      onSubmit={(event) => {
        event.preventDefault();
        void say('The note is kept.', { kind: 'note', text: note });
      }}
    >
      <Field large label="A note" required value={note} onChange={(event) => setNote(event.target.value)} />
      <Button large type="submit">
        Save
      </Button>
    </form>
  );
}

function HandOver({ people, say }: { people: JobCard['people']; say: Say }) {
  const [to, setTo] = useState('');
  return (
    <form
      className="grid grid-cols-[1fr_auto] items-end gap-2"
      onSubmit={(event) => {
        event.preventDefault();
        if (to) void say('Handed over.', { kind: 'hand over', toId: to });
      }}
    >
      <Choose large label="Hand over to" value={to} onChange={(event) => setTo(event.target.value)}>
        <option value="">choose a person</option>
        {people.map(({ id, name }) => (
          <option key={id} value={id}>
            {name}
          </option>
        ))}
      </Choose>
      <Button large type="submit" disabled={!to}>
        Hand over
      </Button>
    </form>
  );
}

/** Who has the card pauses it; anybody else takes it up. */
function Rest({ mine, say }: { mine: boolean; say: Say }) {
  const [why, setWhy] = useState('');
  const reason = why.trim() ? { reason: why } : {};
  return (
    <div className="grid grid-cols-[1fr_auto] items-end gap-2">
      <Field large label="Why it rests" value={why} onChange={(event) => setWhy(event.target.value)} />
      {mine ? (
        <Button large onClick={() => void say('Paused; anybody may take it up.', { kind: 'pause', ...reason })}>
          Pause
        </Button>
      ) : (
        <Button large onClick={() => void say('You have the card.', { kind: 'take up' })}>
          Take it up
        </Button>
      )}
    </div>
  );
}

function Said({ card: { parts, notes } }: { card: JobCard }) {
  if (parts.length === 0 && notes.length === 0) return null;
  return (
    <ul className="border-t border-hair pt-2">
      {parts.map(({ id, what, quantity, by }) => (
        <li key={id}>
          Asked for: {quantity} × {what} <span className="text-soft">{by}</span>
        </li>
      ))}
      {notes.map(({ id, text, by }) => (
        <li key={id}>
          {text} <span className="text-soft">{by}</span>
        </li>
      ))}
    </ul>
  );
}
