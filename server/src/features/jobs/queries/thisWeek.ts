import type { Reader } from '@mile-mark/contract/people';
import type { ThisWeek } from '@mile-mark/contract/jobs';
import type { Coverage } from '@mile-mark/contract/specifications';
import {
  changeInWords,
  countInWords,
  dayInWords,
  findingPlaceInWords,
  milesInWords,
  nextThing,
  scopeInWords,
  SEVERITY_WORDS,
  thicknessInWords,
} from '@mile-mark/contract/words';
import { dateOfDay, dayNumber } from '@mile-mark/core';
import type { EntityManager } from '../../../platform/db/orm.ts';
import type { Block, PrintedDocument } from '../../../platform/documents/pdf.ts';
import { listChanges, marksUntil } from '../../forecasts/index.ts';
import { countOpenQuestions } from '../../inspections/index.ts';
import { readSettings } from '../../register/index.ts';
import { coverage, listTorqueTools } from '../../specifications/index.ts';
import { isDue, openDefects } from './defects.ts';
import { listJobs } from './jobs.ts';

/** A job within so many days needs its wrench now; a calibration that ends within so many is arranged now. */
const [NEAR_DAYS, CALIBRATE_DAYS] = [56, 30];

/** What the week from today asks. @param depot of this depot alone */
export async function thisWeek(em: EntityManager, today: string, depot?: string): Promise<ThisWeek> {
  const after = (days: number) => dateOfDay(dayNumber(today) + days);
  const until = after(6);
  const own = <T extends { depot: string }>(rows: T[]) =>
    rows.filter((one) => depot === undefined || one.depot === depot);
  const defects = own(await openDefects(em, today));
  const forbidding = defects.filter(({ severity, lifted }) => severity === 'do not drive' && lifted === null);
  const jobs = await listJobs(em, { state: 'open', ...(depot === undefined ? {} : { depot }) });
  const { unreachable } = await coverage(em, today);
  const tools = own(await listTorqueTools(em));
  const { riskTarget } = await readSettings(em);
  return {
    today,
    until,
    depot: depot ?? null,
    riskTarget,
    forbidding,
    marks: own(await marksUntil(em, until)),
    changes: own(await listChanges(em)).filter(({ open }) => open),
    jobs: jobs.filter(({ state, day }) => state === 'in work' || (day !== null && day <= until)),
    defects: defects.filter(
      (one) =>
        !forbidding.includes(one) && one.severity !== 'note' && one.severity !== 'do not drive' && isDue(one, today),
    ),
    questions: await countOpenQuestions(em, depot),
    borrow: borrowed(own(unreachable), after(NEAR_DAYS)),
    calibrate: tools
      .filter(
        ({ retired, calibrationDue }) => !retired && calibrationDue !== null && calibrationDue <= after(CALIBRATE_DAYS),
      )
      .map(({ id, name, depot: where, calibrationDue }) => ({ id, name, depot: where, calibrationDue })),
  };
}

/** What one loan answers, together: joints of the same depot that the same other depots reach. */
function borrowed(rows: Coverage['unreachable'], before: string): ThisWeek['borrow'] {
  const loans = new Map<string, ThisWeek['borrow'][number]>();
  for (const { depot, joint, torque, elsewhere, jobs } of rows) {
    const units = jobs.filter(({ markDate }) => markDate <= before).map(({ unit }) => unit);
    if (units.length === 0) continue;
    const key = JSON.stringify([depot, elsewhere]);
    const loan = loans.get(key) ?? { depot, joints: [], units: [], elsewhere };
    loan.joints.push({ joint, torque });
    loan.units = [...new Set([...loan.units, ...units])];
    loans.set(key, loan);
  }
  return [...loans.values()];
}

/** The same to be printed, in the units of whoever prints it. */
export function weekDocument(week: ThisWeek, { distanceUnit, thicknessUnit }: Reader): PrintedDocument {
  const { today, until, depot, forbidding, marks, changes, jobs, defects, questions, borrow, calibrate } = week;
  const table = (text: string, head: string[], widths: (number | '*')[], rows: string[][], none: string): Block[] => [
    { kind: 'heading', text: rows.length === 0 ? text : `${text}: ${rows.length}` },
    rows.length === 0 ? { kind: 'text', text: none } : { kind: 'table', head, widths, rows },
  ];
  return {
    title: `This week${depot === null ? '' : `, ${depot}`}`,
    subtitle: `${dayInWords(today)} to ${dayInWords(until)}`,
    onOnePage: true,
    foot: 'Marks are forecasts. The maker’s instructions, local codes and licensed practice come first.',
    blocks: [
      ...table(
        'Not to be driven',
        ['Unit', 'Where', 'What', 'Said by'],
        [44, 70, '*', 130],
        forbidding.map((one) => [
          one.unit,
          findingPlaceInWords(one),
          toldOf(one),
          `${one.saidBy}, ${dayInWords(one.foundOn)}`,
        ]),
        'No vehicle stands as not to be driven.',
      ),
      ...table(
        'Marks passed or due',
        ['Unit', 'Axle', 'Mark', 'Odometer', 'Thinnest', 'Next'],
        [44, 26, 62, 62, 50, '*'],
        marks.map((mark) => [
          mark.unit,
          String(mark.axle),
          dayInWords(mark.markDate),
          milesInWords(mark.markOdometerMi, distanceUnit),
          thicknessInWords(mark.thinnestMm, thicknessUnit),
          nextThing(mark, today, week.riskTarget).what,
        ]),
        'No mark falls within the week.',
      ),
      ...table(
        'Changes of wear to decide on',
        ['Unit', 'Seen', 'To be looked at'],
        [44, '*', 190],
        changes.map((one) => [one.unit, changeInWords(one).seen, changeInWords(one).check]),
        'None waits for a decision.',
      ),
      ...table(
        'Jobs',
        ['Unit', 'Stands', 'What is done', 'Who'],
        [36, 104, '*', 84],
        jobs.map((job) => [
          job.unit,
          standsInWords(job, today),
          scopeInWords(job.axles),
          job.people.join(', ') || 'nobody yet',
        ]),
        'Nothing is in work or booked.',
      ),
      ...table(
        'Findings and complaints',
        ['Unit', 'Where', 'What', 'Severity'],
        [44, 70, '*', 90],
        defects.map((one) => [one.unit, findingPlaceInWords(one), toldOf(one), SEVERITY_WORDS[one.severity]]),
        'None is due.',
      ),
      { kind: 'heading', text: 'Questions' },
      {
        kind: 'text',
        text:
          questions === 0
            ? 'No reading waits for a word.'
            : `${countInWords(questions, 'reading or odometer', 'readings or odometers')} in doubt.`,
      },
      ...table(
        'To be borrowed',
        ['Depot', 'Joints', 'For', 'From'],
        [80, '*', 100, 100],
        borrow.map((one) => [
          one.depot,
          one.joints.map(({ joint, torque }) => `${joint} ${torque}`).join('; '),
          one.units.join(', '),
          one.elsewhere.join(', ') || 'no depot has one',
        ]),
        'Every near job has its wrench.',
      ),
      ...table(
        'To be calibrated',
        ['Wrench', 'Depot', 'Calibration ends'],
        ['*', 130, 110],
        calibrate.map((one) => [
          one.name,
          one.depot,
          one.calibrationDue === null ? '' : dayInWords(one.calibrationDue),
        ]),
        'No calibration ends within a month.',
      ),
    ],
  };
}

const toldOf = ({ text, note }: ThisWeek['defects'][number]): string => (note ? `${text}: ${note}` : text);

function standsInWords({ state, day, bay }: ThisWeek['jobs'][number], today: string): string {
  if (day === null) return state;
  const late = state === 'booked' && day < today ? 'late: ' : '';
  return `${late}${state} ${dayInWords(day)}${bay === null ? '' : `, ${bay}`}`;
}
