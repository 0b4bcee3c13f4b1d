import { describe, expect, it } from '@jest/globals';
import type { Appraisers, AppraiserView, ShareView } from '@mile-mark/contract/gauges';
import { isNotable, shareInWords, whatHelps } from './helps.ts';

const repeat = { repeatabilityMm: 0.2, repeatabilityFromMm: 0.18, repeatabilityToMm: 0.22, readings: 300 };
const appraiser = (
  technician: string,
  gauge: string,
  biasMm: number,
  more: Partial<AppraiserView> = {},
): AppraiserView => ({
  technicianId: technician,
  technician,
  gaugeId: gauge,
  gauge,
  resolutionMm: 0.1,
  biasMm,
  biasSdMm: 0.05,
  against: { biasMm, biasSdMm: 0.04 },
  drift: [],
  ...repeat,
  ...more,
});
const share = (id: string, biasMm: number, partners: number): ShareView => ({
  id,
  name: id,
  biasMm,
  biasSdMm: 0.08,
  partners,
  ...repeat,
});
const data = (part: Partial<Appraisers>): Appraisers => ({
  computedAt: null,
  appraisers: [],
  technicians: [],
  gauges: [],
  ...part,
});

describe('what would help', () => {
  it('names a gauge that reads high in several appraisers, and not the people who hold it', () => {
    const helps = whatHelps(
      data({
        appraisers: [appraiser('Ann', 'G3', 0.5), appraiser('Bob', 'G3', 0.45)],
        gauges: [share('G3', 0.45, 2)],
        technicians: [share('Ann', 0, 2), share('Bob', 0, 2)],
      }),
    );
    expect(helps.map(({ about }) => about)).toEqual(['G3']);
    expect(helps[0]?.finding).toContain('it is the gauge');
  });

  it('says that appraiser and gauge can’t be told apart where they always go together', () => {
    const [help] = whatHelps(
      data({
        appraisers: [appraiser('Ann', 'G3', 0.5)],
        gauges: [share('G3', 0.2, 1)],
        technicians: [share('Ann', 0.3, 1)],
      }),
    );
    expect(help?.finding).toContain('can’t be told apart');
    expect(help?.help).toContain('gauge study');
  });

  it('tells a coarse gauge, a drift, and nothing where nothing stands out', () => {
    const coarse = whatHelps(data({ appraisers: [appraiser('Ann', 'Feelers', 0, { resolutionMm: 1 })] }));
    expect(coarse[0]?.finding).toContain('steps of 1.00 mm');
    const quarter = (name: string, biasMm: number) => ({ quarter: name, biasMm, biasSdMm: 0.04, readings: 80 });
    const drift = whatHelps(
      data({
        appraisers: [appraiser('Ann', 'G1', 0.1, { drift: [quarter('2026-01-01', -0.1), quarter('2026-10-01', 0.3)] })],
      }),
    );
    expect(drift[0]?.finding).toContain('0.40 mm upwards since 2026-01');
    expect(whatHelps(data({ appraisers: [appraiser('Ann', 'G1', 0.1)] }))).toEqual([]);
  });

  it('does not call out what may be chance', () => {
    expect(isNotable({ biasMm: 0.4, biasSdMm: 0.3 })).toBe(false);
    expect(isNotable({ biasMm: -0.4, biasSdMm: 0.1 })).toBe(true);
    expect(isNotable({ biasMm: 0.1, biasSdMm: 0.01 })).toBe(false);
  });
});

describe('a share in words', () => {
  it('has sign, interval, and whether it is a guess', () => {
    expect(shareInWords(share('G3', -0.4, 2), 'gauge')).toBe('−0.40 ± 0.13 mm');
    expect(shareInWords(share('G3', 0.4, 1), 'gauge')).toContain('one person uses it');
  });
});
