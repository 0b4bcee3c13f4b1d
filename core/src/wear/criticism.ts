/** What the forecasts take for granted, each with the question its residuals answer. */
export const ASSUMPTIONS = ['technician', 'season', 'route', 'age', 'odometer', 'width', 'run'] as const;
export type Assumption = (typeof ASSUMPTIONS)[number];

/** A look at an axle against what was expected of it. */
export interface CheckedLook {
  /** The axle of one vehicle; its looks stand in order of date. */
  of: string;
  /** Reading less expectation in standard deviations, mean over the axle's pads. */
  z: number;
  /** Root mean square of the same over its pads. */
  size: number;
  /** To which group of each assumption it belongs; left out where to none. */
  groups: Partial<Record<Assumption, string | undefined>>;
}

/** How the looks of one group came out. */
export interface Strain {
  assumption: Assumption;
  group: string;
  looks: number;
  /** Mean error in standard deviations, with its standard error; of `run` the correlation of a look's error with the next. */
  mean: number;
  meanSd: number;
  /** Root mean square error in standard deviations; 1 where widths are right. */
  spread: number;
  /** Whether it is more than chance and large enough to matter. */
  strained: boolean;
}

const LEAST_LOOKS = 12;
/** A strain is told from so many standard errors on: with some fifty groups, one falsely in twenty fleets. */
const SURE = 3.3;
/** Smaller errors than these do not matter (starting values): of the mean, of the width, of the run. */
const MATTERS = { mean: 0.25, spread: 0.2, run: 0.2 };
const CLIP = 4;

/**
 * Where a fleet's readings strain what forecasts assume: of each technician, season, route, age of the pads and odometer
 * the mean error should be nought, of each class the width 1, and one look's error should tell nothing of the next.
 * Standard errors take each look as one, however many pads were read. Posterior predictive checks: Gelman et al., Bayesian
 * Data Analysis, 3rd ed., §6.3.
 *
 * @returns every group of twelve looks and more, the strained ones first
 */
export function strainsOf(looks: readonly CheckedLook[]): Strain[] {
  const groups = new Map<string, { assumption: Assumption; group: string; own: CheckedLook[] }>();
  for (const look of looks)
    for (const assumption of ASSUMPTIONS) {
      const group = look.groups[assumption];
      if (group === undefined) continue;
      const key = `${assumption}/${group}`;
      const found = groups.get(key);
      if (found) found.own.push(look);
      else groups.set(key, { assumption, group, own: [look] });
    }
  return [...groups.values()]
    .filter(({ own }) => own.length >= LEAST_LOOKS)
    .map(({ assumption, group, own }) =>
      assumption === 'run' ? runStrain(group, own) : groupStrain(assumption, group, own),
    )
    .sort((a, b) => Number(b.strained) - Number(a.strained));
}

const clipped = (z: number) => Math.max(-CLIP, Math.min(CLIP, z));

function groupStrain(assumption: Assumption, group: string, own: readonly CheckedLook[]): Strain {
  const n = own.length;
  const mean = own.reduce((sum, { z }) => sum + clipped(z), 0) / n;
  const variance = own.reduce((sum, { z }) => sum + (clipped(z) - mean) ** 2, 0) / (n - 1);
  const meanSd = Math.sqrt(variance / n);
  const spread = Math.sqrt(own.reduce((sum, { size }) => sum + Math.min(CLIP, size) ** 2, 0) / n);
  const wide = assumption === 'width';
  const off = wide ? spread - 1 : mean;
  const offSd = wide ? 1 / Math.sqrt(2 * n) : meanSd;
  const strained = Math.abs(off) > SURE * offSd && Math.abs(off) > (wide ? MATTERS.spread : MATTERS.mean);
  return { assumption, group, looks: n, mean, meanSd, spread, strained };
}

/** Correlation of the errors of neighbouring looks of one axle (Fisher's transformation gives its error). */
function runStrain(group: string, own: readonly CheckedLook[]): Strain {
  const pairs = own.flatMap((look, k) => {
    const before = own[k - 1];
    return before?.of === look.of ? [[clipped(before.z), clipped(look.z)] as const] : [];
  });
  const n = pairs.length;
  const mean = (of: 0 | 1) => pairs.reduce((sum, pair) => sum + pair[of], 0) / Math.max(1, n);
  const [a, b] = [mean(0), mean(1)];
  const sum = (of: (x: number, y: number) => number) => pairs.reduce((total, [x, y]) => total + of(x - a, y - b), 0);
  const spread = Math.sqrt(sum((x) => x * x) * sum((_x, y) => y * y));
  const correlation = spread > 0 ? sum((x, y) => x * y) / spread : 0;
  const meanSd = 1 / Math.sqrt(Math.max(1, n - 3));
  const sure = n >= LEAST_LOOKS && Math.abs(Math.atanh(correlation * 0.999999)) > SURE * meanSd;
  return {
    assumption: 'run',
    group,
    looks: n,
    mean: correlation,
    meanSd,
    spread: 1,
    strained: sure && Math.abs(correlation) > MATTERS.run,
  };
}

/** Residuals of one-step forecasts gathered by look. */
export interface Residual {
  of: string;
  date: string;
  /** Reading less expectation, in standard deviations. */
  z: number;
  groups: Partial<Record<Assumption, string | undefined>>;
}

/** Looks at axles from the residuals of their pads, in order of axle and date; the groups are those of a look's first pad. */
export function checkedLooks(residuals: readonly Residual[]): CheckedLook[] {
  const looks = new Map<string, Residual[]>();
  for (const one of residuals) {
    const key = `${one.of}/${one.date}`;
    const own = looks.get(key);
    if (own) own.push(one);
    else looks.set(key, [one]);
  }
  return [...looks.entries()]
    .sort(([a], [b]) => (a < b ? -1 : 1))
    .map(([, own]) => {
      const [first] = own as [Residual];
      return {
        of: first.of,
        groups: first.groups,
        z: own.reduce((sum, { z }) => sum + clipped(z), 0) / own.length,
        size: Math.sqrt(own.reduce((sum, { z }) => sum + Math.min(CLIP, Math.abs(z)) ** 2, 0) / own.length),
      };
    });
}
