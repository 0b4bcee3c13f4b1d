import { useState } from 'react';
import { Link } from 'react-router';
import { toast } from 'sonner';
import { mayDo } from '@mile-mark/contract';
import type { JobKit } from '@mile-mark/contract/parts';
import type { Me } from '@mile-mark/contract/people';
import { kitStateInWords, needInWords, needPlaceInWords, takesInWords } from '@mile-mark/contract/words';
import { useJobKit, useMove } from '../../api/parts.ts';
import { Button } from '../../ui/Button.tsx';
import { PickKit } from './PickKit.tsx';

/** The kit of a job on its page: each line, from which number, and where it stands. */
export function KitOf({ jobId, me }: { jobId: string; me: Me }) {
  const kits = useJobKit(jobId);
  const [picking, setPicking] = useState(false);
  const kit = kits.data?.[0];
  if (kits.isLoadingError)
    return (
      <p role="alert" className="text-brick">
        Its kit couldn’t load: {kits.error.message}
      </p>
    );
  if (!kit) return null;
  const open = kit.needs.some(({ picked, options }) => picked === 0 && options.length > 0);
  return (
    <section aria-label="Kit">
      <h2 className="mb-1 flex flex-wrap items-baseline gap-3 font-semibold">
        <span className={kit.state === 'short' ? 'text-brick' : ''}>{sentence(kitStateInWords(kit))}</span>
        {open && kit.jobState !== 'proposed' && mayDo(me.role, 'pick') && (
          <Button look="bare" onClick={() => setPicking(true)}>
            Pick it …
          </Button>
        )}
        {kit.state === 'short' && mayDo(me.role, 'supply') && (
          <Link className="font-normal underline" to={`/parts?view=orders&depot=${encodeURIComponent(kit.depot)}`}>
            To the orders
          </Link>
        )}
      </h2>
      <ul>
        {kit.needs.map((need) => (
          <li
            key={`${need.kind}/${need.axle ?? ''}/${need.side}`}
            className="grid grid-cols-[11rem_1fr_12rem] gap-3 border-b border-hair py-1 max-sm:grid-cols-1"
          >
            <span>
              {need.kind} <span className="text-soft">{needPlaceInWords(need)}</span>
            </span>
            <span className="figures">{takesInWords(need)}</span>
            <span className={need.now.state === 'short' && need.picked === 0 ? 'font-medium text-brick' : 'text-soft'}>
              {needInWords(need)}
            </span>
          </li>
        ))}
      </ul>
      <p className="mt-1 text-soft">
        <Link className="underline" to={`/parts?view=kits&model=${encodeURIComponent(kit.model)}`}>
          Version {kit.version} of the kits of {kit.model}
        </Link>
        {kit.jobState === 'in work' && ', as it was when work began'}
      </p>
      <Picks kit={kit} me={me} />
      {kit.notices.map(({ text }) => (
        <p key={text} className="mt-1 border-l-4 border-line pl-2">
          {text}
        </p>
      ))}
      {picking && <PickKit kit={kit} onClose={() => setPicking(false)} />}
    </section>
  );
}

/** What went into the job's box; what is not needed goes back where it came from. */
function Picks({ kit, me }: { kit: JobKit; me: Me }) {
  const move = useMove();
  if (kit.picks.length === 0) return null;
  return (
    <>
      {kit.state !== 'over' && <h3 className="mt-2 font-semibold">Picked</h3>}
      <ul>
        {kit.picks.map(({ part, name, bin, lot, units }) => (
          <li key={`${part}/${bin}/${lot ?? ''}`} className="flex items-center gap-3 border-b border-hair py-1">
            <span className="grow">
              <span className="figures font-semibold">
                {units} × {part}
              </span>{' '}
              {name}
              {lot !== null && `, lot ${lot}`}
            </span>
            {mayDo(me.role, 'supply') && (
              <Button
                disabled={move.isPending}
                onClick={() =>
                  move.mutate(
                    {
                      id: crypto.randomUUID(),
                      kind: 'return',
                      part,
                      depot: kit.depot,
                      bin,
                      units,
                      jobId: kit.jobId,
                      ...(lot === null ? {} : { lot }),
                    },
                    {
                      onSuccess: () => toast(`${units} × ${part} back in ${bin}.`),
                      onError: (error) => toast(error.message),
                    },
                  )
                }
              >
                Put back in {bin}
              </Button>
            )}
          </li>
        ))}
      </ul>
    </>
  );
}

const sentence = (words: string) => words.charAt(0).toUpperCase() + words.slice(1);
