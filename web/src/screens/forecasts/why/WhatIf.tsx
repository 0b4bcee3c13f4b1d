import type { AxleDetail, ForecastInput } from '@mile-mark/contract/forecasts';
import type { Me } from '@mile-mark/contract/people';
import type { Duty } from '@mile-mark/contract/register';
import { limitInWords } from '@mile-mark/contract/words';
import { useDuties } from '../../../api/register.ts';
import { Button } from '../../../ui/Button.tsx';
import { Choose } from '../../../ui/Choose.tsx';
import { Slider } from '../../../ui/Slider.tsx';
import { inDays } from '../../../ui/format.ts';
import { AS_IT_IS, policyOf, type Question } from './ask.ts';

export function differenceInWords(days: number): string {
  if (days === 0) return 'no day’s difference';
  return `${inDays(days)} ${days > 0 ? 'later' : 'sooner'}`;
}

interface WhatIfProps {
  axle: AxleDetail;
  found: ForecastInput;
  question: Question;
  setQuestion: (question: Question) => void;
  isAsked: boolean;
  me: Me;
  children: React.ReactNode;
}

export function WhatIf({ axle, found, question, setQuestion, isAsked, me, children }: WhatIfProps) {
  const duties = useDuties();
  const present: Duty | null = question.duty ?? found.present;
  const payload = Math.round((question.payloadShare ?? present?.payloadShare ?? 0) * 100);
  const limit = question.limitMm ?? axle.limit.limitMm;
  const risk = Math.round((question.riskTarget ?? policyOf(found).riskTarget) * 1000) / 10;
  const set = (part: Partial<Question>) => setQuestion({ ...question, ...part });
  return (
    <section aria-label="What if" className="flex flex-col gap-2">
      <div className="flex items-baseline justify-between">
        <h2 className="font-semibold">What if, from tomorrow on</h2>
        {isAsked && (
          <Button look="bare" onClick={() => setQuestion(AS_IT_IS)}>
            As it is
          </Button>
        )}
      </div>
      <div className="grid grid-cols-2 gap-x-6 gap-y-2">
        <Choose
          label="Duty"
          value={question.duty?.id ?? ''}
          disabled={!found.reference}
          onChange={(event) => set({ duty: duties.data?.find(({ id }) => id === event.target.value) ?? null })}
        >
          <option value="">as it is ({found.present?.name ?? 'none stated'})</option>
          {duties.data?.map(({ id, name }) => (
            <option key={id} value={id}>
              {name}
            </option>
          ))}
        </Choose>
        <Slider
          label="Payload"
          value={payload}
          min={0}
          max={130}
          step={5}
          told={`${payload} % of the most`}
          onChange={(value) => set({ payloadShare: value / 100 })}
          disabled={!present || !found.reference}
        />
        <Slider
          label="Limit"
          value={limit}
          min={1}
          max={Math.round(axle.padNewMm * 0.6)}
          step={0.1}
          told={limitInWords(limit, me.thicknessUnit)}
          onChange={(value) => set({ limitMm: value })}
        />
        <Slider
          label="Risk"
          value={risk}
          min={0.5}
          max={50}
          step={0.5}
          told={`${risk} % chance below the limit`}
          onChange={(value) => set({ riskTarget: value / 100 })}
        />
      </div>
      {children}
    </section>
  );
}
