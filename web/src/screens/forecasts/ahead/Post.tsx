import type { MileMark } from '@mile-mark/contract/forecasts';
import { thicknessInWords } from '@mile-mark/contract/words';
import { useMe } from '../../../api/people.ts';
import { shareLeft, wearLook } from '../../../drawings/wear.ts';
import { formatDate } from '../../../ui/format.ts';
import type { RoadScale } from './scale.ts';

export const LANE_PX = 36;
export const POST_WIDTH = 15;
const POST_HEIGHT = 26;

/** A post stands at the mile mark of an axle; its tail runs to the late end of the 80 % interval. */
export function Post({
  mark,
  scale,
  selected,
  onSelect,
  today,
  standsAt,
}: {
  mark: MileMark;
  /** Where its plate stands, px; beside its date where another stands there. */
  standsAt: number;
  scale: RoadScale;
  selected: boolean;
  onSelect: (selected: { unit: string; axle: number }) => void;
  today: string;
}) {
  const { thicknessUnit } = useMe();
  const left = scale.x(mark.markDate);
  const share = shareLeft(mark.thinnestMm, mark.serviceLimitMm, mark.newMm);
  const { colour, word } = wearLook(share);
  const unmeasured = mark.evidence.readings === 0;
  const passed = mark.markDate < today;
  const beyond = left >= scale.width - 19;
  const at = (date: string) => Math.max(scale.x(date), left);
  const told = `${mark.unit} axle ${mark.axle}: mark ${formatDate(mark.markDate)}${passed ? ', passed' : beyond ? ', beyond the road shown' : ''}, thinnest pad ${thicknessInWords(mark.thinnestMm, thicknessUnit)}, ${word}${unmeasured ? ', not measured since pads were fitted' : ''}`;
  const ticks = [mark.interval80.fromDate, mark.medianDate].map(at).filter((x) => x > left + POST_WIDTH / 2);
  return (
    <>
      <span
        aria-hidden
        className="absolute h-[3px] rounded-r"
        style={{
          left,
          width: Math.max(0, at(mark.interval80.toDate) - left),
          top: LANE_PX - 9,
          background: colour,
          opacity: 0.45,
        }}
      />
      {ticks.map((x, index) => (
        <span
          key={index}
          aria-hidden
          className="absolute w-[2px]"
          style={{ left: x, top: LANE_PX - 13, height: 11, background: colour }}
        />
      ))}
      {beyond && (
        <span
          aria-hidden
          className="figures absolute text-[15px] leading-none font-semibold text-soft"
          style={{ left: standsAt + 9, top: 9 }}
        >
          ›
        </span>
      )}
      <button
        tabIndex={-1}
        data-dense
        aria-label={told}
        title={told}
        aria-pressed={selected}
        onClick={() => onSelect({ unit: mark.unit, axle: mark.axle })}
        className={`figures absolute z-[1] overflow-hidden bg-raised text-[11px] leading-none font-semibold ${selected ? 'outline-2 outline-offset-1 outline-ink' : ''}`}
        style={{
          left: standsAt - POST_WIDTH / 2,
          top: 4,
          width: POST_WIDTH,
          height: POST_HEIGHT,
          border: `1.5px ${unmeasured ? 'dashed' : 'solid'} ${selected ? 'var(--color-ink)' : colour}`,
        }}
      >
        <span
          aria-hidden
          className="absolute inset-x-0 bottom-0"
          style={{ height: `${Math.round(share * 100)}%`, background: colour, opacity: unmeasured ? 0.4 : 1 }}
        />
        <span className="relative rounded-sm bg-raised/85 px-[2px]">{mark.axle}</span>
      </button>
    </>
  );
}
