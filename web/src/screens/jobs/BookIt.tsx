import { useState } from 'react';
import { useNavigate } from 'react-router';
import { toast } from 'sonner';
import type { JobProposal } from '@mile-mark/contract/jobs';
import { actionInWords } from '@mile-mark/contract/words';
import { ApiProblem } from '../../api/client.ts';
import { useAddJob, useProposal } from '../../api/jobs.ts';
import { Button } from '../../ui/Button.tsx';
import { Modal } from '../../ui/Modal.tsx';
import { State } from '../../ui/State.tsx';
import { Tick } from '../../ui/Tick.tsx';
import { formatDate } from '../../ui/format.ts';
import { TOAST_TO_ACT_MS } from '../../ui/toasts.ts';
import { useNewId } from '../../ui/useNewId.ts';
import { DayAndBay } from './DayAndBay.tsx';
import { firstDay } from './firstDay.ts';
import { ScopeOf, type Left } from './ScopeOf.tsx';

/** Book it: which axles, what is done, when, where and by whom. */
export function BookIt({ unit, axle, onClose }: { unit: string; axle: number; onClose: () => void }) {
  const proposal = useProposal(unit);
  const navigate = useNavigate();
  return (
    <Modal open wide onClose={onClose} title={`Book ${unit}`}>
      {proposal.isPending ? (
        <State
          title="Working out what it needs"
          what="Readings, findings, rotors and the shop’s policy are weighed."
          quiet
        />
      ) : proposal.isLoadingError ? (
        <State title="The proposal couldn’t load" what={proposal.error.message}>
          <Button onClick={() => void proposal.refetch()}>Try again</Button>
        </State>
      ) : proposal.data.openJobId ? (
        <div className="flex flex-col items-start gap-3">
          <p>{unit} has an open job already. Change that one: add the axle, move it, or call it off.</p>
          <Button look="next" onClick={() => void navigate(`/jobs/${proposal.data.openJobId ?? ''}`)}>
            Open its job
          </Button>
        </div>
      ) : (
        <BookForm proposal={proposal.data} axle={axle} onClose={onClose} />
      )}
    </Modal>
  );
}

/** Axles that are ticked at first: the one chosen, and those that are near or must be done. */
function firstChoice({ axles, bundling }: JobProposal, axle: number): Set<number> {
  const must = axles.filter(({ scope }) => scope.some(({ mandatory }) => mandatory)).map((one) => one.axle);
  const near = bundling?.axles.includes(axle) ? bundling.axles : [];
  return new Set([axle, ...must, ...near]);
}

function BookForm({ proposal, axle, onClose }: { proposal: JobProposal; axle: number; onClose: () => void }) {
  const [id] = useNewId();
  const navigate = useNavigate();
  const add = useAddJob();
  const [chosen, setChosen] = useState(() => firstChoice(proposal, axle));
  const [left, setLeft] = useState<Left>({});
  const mark = proposal.axles.find((one) => one.axle === axle)?.markDate ?? proposal.today;
  const [form, setForm] = useState({ day: firstDay(proposal.today, mark), bay: '', people: new Set<string>() });
  const problem = add.error instanceof ApiProblem ? add.error : undefined;
  const { unit, depot, bundling } = proposal;
  const book = () => {
    const { day, bay, people } = form;
    add.mutate(
      {
        id,
        unit,
        axles: proposal.axles
          .filter((one) => chosen.has(one.axle))
          .map((one) => ({
            axle: one.axle,
            declined: Object.entries(left[one.axle] ?? {}).map(([action, reason]) => ({
              action: action as 'pads',
              reason,
            })),
            added: one.scope.length > 0 ? [] : [{ action: 'pads' as const, reason: 'booked by hand' }],
          })),
        ...(day ? { day } : {}),
        ...(bay.trim() ? { bay } : {}),
        ...(people.size > 0 ? { personIds: [...people] } : {}),
      },
      {
        onSuccess: () => {
          toast(day ? `${unit} is booked for ${formatDate(day)}.` : `A job for ${unit} is proposed.`, {
            duration: TOAST_TO_ACT_MS,
            action: { label: 'Open it', onClick: () => void navigate(`/jobs/${id}`) },
          });
          onClose();
        },
      },
    );
  };
  return (
    <form
      className="flex flex-col gap-4"
      onSubmit={(event) => {
        event.preventDefault();
        book();
      }}
    >
      {bundling && <p className="border-l-4 border-slate pl-3">{bundling.text}</p>}
      {proposal.axles.map((one) => (
        <section key={one.axle} aria-label={`Axle ${one.axle}`} className="border-t border-hair pt-2">
          <Tick
            checked={chosen.has(one.axle)}
            onChange={(on) =>
              setChosen(on ? new Set([...chosen, one.axle]) : new Set([...chosen].filter((own) => own !== one.axle)))
            }
          >
            <span className="font-semibold">Axle {one.axle}</span>
            {one.markDate && <span className="ml-2 text-soft">mark {formatDate(one.markDate)}</span>}
            {one.scope.length > 0 && <span className="ml-2">{one.scope.map(actionInWords).join(', ')}</span>}
          </Tick>
          {chosen.has(one.axle) && (
            <ScopeOf
              axle={one}
              currency={proposal.currency}
              left={left[one.axle] ?? {}}
              onLeft={(own) => setLeft({ ...left, [one.axle]: own })}
            />
          )}
        </section>
      ))}
      <WhenAndWho {...{ form, setForm, proposal, problem }} />
      {add.isError && (
        <p role="alert" className="text-brick">
          {add.error.message}
        </p>
      )}
      <div className="flex items-center gap-3">
        <Button look="next" type="submit" disabled={add.isPending || chosen.size === 0}>
          {form.day ? 'Book it' : 'Propose it'}
        </Button>
        <span className="text-soft">
          {form.day ? `At ${depot}.` : 'Without a day it is proposed, and booked later.'}
        </span>
      </div>
    </form>
  );
}

interface WhenProps {
  form: { day: string; bay: string; people: Set<string> };
  setForm: (form: WhenProps['form']) => void;
  proposal: JobProposal;
  problem: ApiProblem | undefined;
}

function WhenAndWho({ form, setForm, proposal, problem }: WhenProps) {
  return (
    <div className="grid gap-3 border-t border-hair pt-3 sm:grid-cols-[23rem_1fr]">
      <DayAndBay
        unit={proposal.unit}
        depot={proposal.depot}
        day={form.day}
        bay={form.bay}
        onDay={(day) => setForm({ ...form, day })}
        onBay={(bay) => setForm({ ...form, bay })}
        errorOf={(field) => problem?.of(field)}
      />
      <fieldset>
        <legend className="text-soft">Who</legend>
        <div className="flex flex-wrap gap-x-4 gap-y-1">
          {proposal.people.map(({ id, name }) => (
            <Tick
              key={id}
              checked={form.people.has(id)}
              onChange={(on) =>
                setForm({
                  ...form,
                  people: on ? new Set([...form.people, id]) : new Set([...form.people].filter((one) => one !== id)),
                })
              }
            >
              {name}
            </Tick>
          ))}
        </div>
      </fieldset>
    </div>
  );
}
