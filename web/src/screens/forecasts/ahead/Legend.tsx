import { GLOSSARY } from '@mile-mark/contract/words';
import type { ReactNode } from 'react';
import { WEAR_LOOKS } from '../../../drawings/wear.ts';
import { Modal } from '../../../ui/Modal.tsx';

/** What the road shows, drawn as it is there. */
export function Legend({ onClose }: { onClose: () => void }) {
  return (
    <Modal open onClose={onClose} title="How to read the road">
      <p className="mb-3">
        <strong>Mile mark.</strong> {GLOSSARY.mileMark.told}
      </p>
      <dl className="grid grid-cols-[5.5rem_1fr] items-center gap-x-4 gap-y-3">
        <Entry sample={<Plate share={0.6} />}>
          A post for each axle, at its mile mark; the figure is the axle. Its fill is the friction material left between
          limit and new.
        </Entry>
        <Entry
          sample={
            <span className="relative block h-8 w-20">
              <Plate share={0.6} />
              <span className="absolute bottom-1 left-3 h-[3px] w-16 rounded-r bg-slate/45" />
              <span className="absolute bottom-0.5 left-8 h-[11px] w-[2px] bg-slate" />
              <span className="absolute bottom-0.5 left-13 h-[11px] w-[2px] bg-slate" />
            </span>
          }
        >
          The tail reaches to the late end of the 80 % interval. The first tick is its early end, the second the median:
          by then it is as likely as not that a pad is at its limit. {GLOSSARY.interval.told}
        </Entry>
        <Entry sample={<Plate share={0.6} dashed />}>
          Dashed and pale: not measured since the pads were fitted; the mark rests on duty and model.
        </Entry>
        <Entry
          sample={
            <span className="flex gap-1.5">
              {WEAR_LOOKS.map(({ colour, word }) => (
                <span key={word} className="size-5" style={{ background: colour }} aria-hidden />
              ))}
            </span>
          }
        >
          {WEAR_LOOKS.map(({ word }) => word).join(', ')}: how much of the pad is left, always with its figure beside
          it.
        </Entry>
        <Entry
          sample={
            <span className="relative block h-8 w-6 border-x-[3px] border-ink">
              <span className="absolute top-0 -left-[3px] h-[3px] w-2 bg-ink" />
              <span className="absolute top-0 -right-[3px] h-[3px] w-2 bg-ink" />
            </span>
          }
        >
          A bracket is a job: dotted while it is proposed, filled while it is in work.
        </Entry>
        <Entry
          sample={
            <span className="flex h-8 items-end">
              <span className="block h-[9px] w-[22px] border-x-2 border-b-2 border-slate" />
            </span>
          }
        >
          A thin foot under the lane is a visit of the published plan that is no job yet.
        </Entry>
        <Entry sample={<span className="figures text-2xl font-semibold text-soft">›</span>}>
          The mark lies beyond the months shown; <kbd>]</kbd> shows more.
        </Entry>
        <Entry sample={<span className="block h-8 w-10 bg-hair" />}>
          Left of today: marks that are passed, the longest passed farthest left.
        </Entry>
        <Entry
          sample={
            <span className="flex h-8 items-end gap-0.5">
              <span className="h-3 w-2 bg-soft" />
              <span className="h-7 w-2 bg-soft" />
              <span className="h-5 w-2 bg-soft" />
            </span>
          }
        >
          Above the road: how many axles fall due each week. A bar shows its week alone.
        </Entry>
        <Entry
          sample={
            <span className="figures flex h-6 w-[26px] items-center justify-center border-2 border-brick text-[13px] font-semibold text-brick">
              2
            </span>
          }
        >
          Under the road: jobs of that week whose kit will be short. {GLOSSARY.kit.told}
        </Entry>
      </dl>
    </Modal>
  );
}

function Entry({ sample, children }: { sample: ReactNode; children: ReactNode }) {
  return (
    <>
      <dt className="flex justify-center">{sample}</dt>
      <dd>{children}</dd>
    </>
  );
}

function Plate({ share, dashed }: { share: number; dashed?: boolean }) {
  return (
    <span
      className={`figures relative block h-[26px] w-[15px] overflow-hidden border-[1.5px] border-slate bg-raised text-center text-[11px] font-semibold ${dashed ? 'border-dashed' : ''}`}
    >
      <span
        className="absolute inset-x-0 bottom-0 bg-slate"
        style={{ height: `${share * 100}%`, opacity: dashed ? 0.4 : 1 }}
      />
      <span className="relative rounded-sm bg-raised/85 px-[2px]">1</span>
    </span>
  );
}
