import { invertSymmetric, itemAt, square, type Square, valueAt } from '../numeric/index.ts';
import { type AppraiserPart, type PooledAppraisers, poolAppraisers } from './appraisers.ts';
import { type AppraiserEvidence, type Lesson, SIGMA_FACTORS } from './lesson.ts';
import { type GroupEvidence, learnSpread, levelPrior, LEVEL_BEFORE, spreadOf, type WearClass } from './prior.ts';
import type { Appraiser, WearPrior } from './types.ts';

/** What a fleet teaches: its appraisers, and the level of wear of each model's axle. */
export interface FleetLearning {
  appraisers: PooledAppraisers;
  groups: Map<string, { prior: WearPrior; vehicles: number }>;
}

/** What is known before, and how what is taught is told apart. */
export interface LearningContext {
  /** All appraisers that occur in lessons and studies. */
  parts: readonly AppraiserPart[];
  /** The appraisers with which the lessons were gathered, by key. */
  present: (key: string) => Appraiser;
  classOf: (group: string) => WearClass;
  /** What gauge studies say of appraisers. */
  studies?: readonly AppraiserEvidence[];
}

/** Information on the groups' levels and the appraisers' biases together: precision and precision × mean. */
interface Joint {
  gg: Square;
  gb: Float64Array;
  bb: Square;
  g: Float64Array;
  b: Float64Array;
}

/**
 * Learns groups and appraisers of each other at once from what each vehicle says: an axle's level is its group's and a
 * spread, a reading its pad's thickness and a bias, so all is one linear model with normal errors, solved by
 * adding up information and eliminating. Source: Gelman et al., Bayesian Data Analysis, 3rd ed., §5.4 and ch. 15; elimination
 * by Schur complement: Golub & Van Loan, Matrix Computations, §3.2.
 */
export function learnFrom(lessons: readonly Lesson[], context: LearningContext): FleetLearning {
  const { parts, present, classOf, studies = [] } = context;
  const spread = learnSpread(lessons.flatMap((lesson) => levelsOf(lesson, present)));
  const names = [...new Set(lessons.flatMap(({ groups }) => groups))].sort();
  const joint = addUp(lessons, names, parts, spread);
  names.forEach((name, i) => {
    const { mean, sd } = LEVEL_BEFORE[classOf(name)];
    joint.gg.data[i * names.length + i] = valueAt(joint.gg.data, i * names.length + i) + sd ** -2;
    joint.g[i] = valueAt(joint.g, i) + mean / sd ** 2;
  });
  const inverse = invertSymmetric(joint.gg) ?? square(names.length);
  const appraisers = poolAppraisers(parts, [withoutLevels(joint, inverse, parts, lessons), ...studies], present);
  const groups = new Map(
    names.map((name, i) => {
      const level = levelGiven(joint, inverse, i, appraisers);
      const vehicles = lessons.filter((lesson) => lesson.groups.includes(name)).length;
      return [name, { prior: levelPrior(level.mean, level.sd, spread), vehicles }];
    }),
  );
  return { appraisers, groups };
}

/** What a lesson says of each axle's level by itself, the appraisers being as they were known. */
export function levelsOf(lesson: Lesson, present: (key: string) => Appraiser): GroupEvidence[] {
  const { groups, appraisers, precision, weighted } = lesson;
  const size = groups.length + appraisers.length;
  const part = square(groups.length);
  const told = groups.map((_, a) => {
    groups.forEach((__, c) => (part.data[a * groups.length + c] = itemAt(precision, a * size + c)));
    return appraisers.reduce(
      (sum, key, j) => sum - itemAt(precision, a * size + groups.length + j) * present(key).biasMm,
      itemAt(weighted, a),
    );
  });
  const inverse = invertSymmetric(part);
  if (!inverse) return [];
  return groups.map((group, a) => ({
    group,
    mean: told.reduce((sum, value, c) => sum + valueAt(inverse.data, a * groups.length + c) * value, 0),
    variance: valueAt(inverse.data, a * groups.length + a),
  }));
}

/** Adds up what lessons say of groups and biases, each vehicle's own levels integrated out over their spread. */
function addUp(lessons: readonly Lesson[], names: readonly string[], parts: readonly AppraiserPart[], spread: number) {
  const groupAt = new Map(names.map((name, i) => [name, i]));
  const partAt = new Map(parts.map(({ key }, i) => [key, i]));
  const [G, B] = [names.length, parts.length];
  const joint: Joint = {
    gg: square(G),
    gb: new Float64Array(G * B),
    bb: square(B),
    g: new Float64Array(G),
    b: new Float64Array(B),
  };
  for (const lesson of lessons) {
    const own = marginal(lesson, spread);
    if (!own) continue;
    const gs = lesson.groups.map((group) => groupAt.get(group) as number);
    const bs = lesson.appraisers.map((key) => partAt.get(key) as number);
    const rows = [...gs, ...bs.map((j) => G + j)];
    const size = rows.length;
    rows.forEach((i, a) => {
      if (i < G) joint.g[i] = valueAt(joint.g, i) + valueAt(own.weighted, a);
      else joint.b[i - G] = valueAt(joint.b, i - G) + valueAt(own.weighted, a);
      rows.forEach((k, c) => {
        const value = valueAt(own.precision, a * size + c);
        if (i < G && k < G) joint.gg.data[i * G + k] = valueAt(joint.gg.data, i * G + k) + value;
        else if (i < G) joint.gb[i * B + k - G] = valueAt(joint.gb, i * B + k - G) + value;
        else if (k >= G) {
          const cell = (i - G) * B + k - G;
          joint.bb.data[cell] = valueAt(joint.bb.data, cell) + value;
        }
      });
    });
  }
  return joint;
}

/**
 * A lesson's information on its groups' levels and its biases: own levels ℓ ~ N(g, S) integrated out,
 *
 *     M = (Λ_ℓℓ + S⁻¹)⁻¹;  Λ_gg = S⁻¹ − S⁻¹MS⁻¹;  Λ_gb = S⁻¹MΛ_ℓb;  Λ_bb − Λ_bℓMΛ_ℓb;  η_g = S⁻¹Mη_ℓ;  η_b − Λ_bℓMη_ℓ
 */
function marginal(
  { groups, appraisers, precision, weighted }: Lesson,
  spread: number,
): { precision: Float64Array; weighted: Float64Array } | undefined {
  const [A, J] = [groups.length, appraisers.length];
  const size = A + J;
  const toGroup = invertSymmetric(spreadOf(A, spread));
  if (!toGroup) return undefined;
  const sum = square(A);
  for (let a = 0; a < A; a += 1)
    for (let c = 0; c < A; c += 1)
      sum.data[a * A + c] = itemAt(precision, a * size + c) + valueAt(toGroup.data, a * A + c);
  const inner = invertSymmetric(sum);
  if (!inner) return undefined;
  // Rows of [S⁻¹; −Λ_bℓ]: what groups and biases have in common with the levels, with the sign of the elimination.
  const cross = (row: number, a: number) =>
    row < A ? valueAt(toGroup.data, row * A + a) : -itemAt(precision, row * size + a);
  const result = { precision: new Float64Array(size * size), weighted: new Float64Array(size) };
  for (let i = 0; i < size; i += 1) {
    const own = Array.from({ length: A }, (_, c) => {
      let value = 0;
      for (let a = 0; a < A; a += 1) value += cross(i, a) * valueAt(inner.data, a * A + c);
      return value;
    });
    result.weighted[i] = own.reduce((total, value, c) => total + value * itemAt(weighted, c), 0);
    if (i >= A) result.weighted[i] = valueAt(result.weighted, i) + itemAt(weighted, i);
    for (let k = 0; k < size; k += 1) {
      let value = 0;
      for (let c = 0; c < A; c += 1) value -= itemAt(own, c) * cross(k, c);
      if (i < A && k < A) value += valueAt(toGroup.data, i * A + k);
      if (i >= A && k >= A) value += itemAt(precision, i * size + k);
      result.precision[i * size + k] = value;
    }
  }
  return result;
}

/** What all lessons say of the appraisers, the groups' levels eliminated. */
function withoutLevels(
  { gb, bb, g, b }: Joint,
  inverse: Square,
  parts: readonly AppraiserPart[],
  lessons: readonly Lesson[],
): AppraiserEvidence {
  const [G, B] = [inverse.size, bb.size];
  const precision = Array.from(bb.data);
  const weighted = Array.from(b);
  for (let i = 0; i < G; i += 1) {
    const row = new Float64Array(B);
    let told = 0;
    for (let k = 0; k < G; k += 1) {
      const share = valueAt(inverse.data, i * G + k);
      told += share * valueAt(g, k);
      for (let j = 0; j < B; j += 1) row[j] = valueAt(row, j) + share * valueAt(gb, k * B + j);
    }
    for (let j = 0; j < B; j += 1) {
      const common = valueAt(gb, i * B + j);
      if (common === 0) continue;
      weighted[j] = itemAt(weighted, j) - common * told;
      for (let k = 0; k < B; k += 1) precision[j * B + k] = itemAt(precision, j * B + k) - common * valueAt(row, k);
    }
  }
  const at = new Map(parts.map(({ key }, i) => [key, i]));
  const logLikelihood = new Array<number>(B * SIGMA_FACTORS.length).fill(0);
  const readings = new Array<number>(B).fill(0);
  for (const lesson of lessons)
    lesson.appraisers.forEach((key, j) => {
      const i = at.get(key) as number;
      readings[i] = itemAt(readings, i) + itemAt(lesson.readings, j);
      SIGMA_FACTORS.forEach((_, f) => {
        const cell = i * SIGMA_FACTORS.length + f;
        logLikelihood[cell] = itemAt(logLikelihood, cell) + itemAt(lesson.logLikelihood, j * SIGMA_FACTORS.length + f);
      });
    });
  return { appraisers: parts.map(({ key }) => key), precision, weighted, logLikelihood, readings };
}

/** A group's level, the appraisers being what they were pooled to; what is unknown of them is taken as each one's own. */
function levelGiven(
  { gb, bb, g }: Joint,
  inverse: Square,
  index: number,
  { appraisers }: PooledAppraisers,
): { mean: number; sd: number } {
  const [G, B] = [inverse.size, bb.size];
  let [mean, variance] = [0, valueAt(inverse.data, index * G + index)];
  const moved = new Float64Array(B);
  for (let k = 0; k < G; k += 1) {
    const share = valueAt(inverse.data, index * G + k);
    mean += share * valueAt(g, k);
    for (let j = 0; j < B; j += 1) moved[j] = valueAt(moved, j) - share * valueAt(gb, k * B + j);
  }
  appraisers.forEach(({ biasMm, biasSdMm }, j) => {
    mean += valueAt(moved, j) * biasMm;
    variance += (valueAt(moved, j) * biasSdMm) ** 2;
  });
  return { mean, sd: Math.sqrt(Math.max(0, variance)) };
}
