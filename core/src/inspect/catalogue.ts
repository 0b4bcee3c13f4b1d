/** What a finding means for the vehicle until somebody has settled it. */
export const SEVERITIES = ['note', 'watch', 'before next use', 'do not drive'] as const;
export type Severity = (typeof SEVERITIES)[number];

/** What can be done at an axle. */
export const JOB_ACTIONS = [
  'pads',
  'rotors new',
  'rotors machined',
  'rotors scuffed',
  'rotor indexed',
  'calipers',
  'hose',
  'pins cleaned',
  'pin boots',
  'bracket',
  'hardware',
  'sensor',
  'channels bared',
  'find the leak',
  'find the cause',
  'bleed',
] as const;
export type JobAction = (typeof JOB_ACTIONS)[number];

/** What a person may look at on a wheel, and when: at any look, or as a function test before parts are ordered. */
export type FindingItem =
  'pins' | 'boots' | 'leak' | 'lining' | 'rotor' | 'piston' | 'bracket' | 'hub' | 'hose' | 'wheel';

/** How far something has gone, as a person judges it by eye. */
export const DEGREES = ['slight', 'clear', 'bad'] as const;
export type Degree = (typeof DEGREES)[number];

interface State {
  state: string;
  severity: Severity;
  /** Likely causes, in the trade's words. */
  causes?: readonly string[];
  actions?: readonly JobAction[];
}

interface CatalogueItem {
  /** Looked at on the service card only, with the caliper released. */
  test: boolean;
  /** Which of several it can be, as seen from outside: the outer before the inner, the upper before the lower. */
  places?: readonly string[];
  states: readonly [State, ...State[]];
}

/**
 * The one catalogue of findings: capture, card, decision and defects read it. The first state of each passes.
 * Common practice, no source.
 */
export const FINDING_CATALOGUE: Readonly<Record<FindingItem, CatalogueItem>> = {
  pins: {
    test: true,
    places: ['upper pin', 'lower pin'],
    states: [
      { state: 'move freely', severity: 'note' },
      { state: 'stiff', severity: 'watch', causes: ['water', 'no grease'], actions: ['pins cleaned', 'pin boots'] },
      {
        state: 'stuck',
        severity: 'before next use',
        causes: ['water', 'no grease', 'pins swapped'],
        actions: ['pins cleaned', 'pin boots'],
      },
    ],
  },
  boots: {
    test: false,
    places: ['upper pin', 'lower pin', 'piston'],
    states: [
      { state: 'whole', severity: 'note' },
      {
        state: 'torn',
        severity: 'before next use',
        causes: ['age', 'pinched'],
        actions: ['pins cleaned', 'pin boots'],
      },
    ],
  },
  leak: {
    test: false,
    places: ['piston', 'bleeder', 'hose joint'],
    states: [
      { state: 'dry', severity: 'note' },
      {
        state: 'damp',
        severity: 'watch',
        causes: ['boot pinched when pads were last fitted'],
        actions: ['calipers', 'bleed'],
      },
      {
        state: 'leaking',
        severity: 'do not drive',
        causes: ['seal', 'hose joint'],
        actions: ['find the leak', 'calipers', 'bleed'],
      },
    ],
  },
  lining: {
    test: false,
    places: ['outer pad', 'inner pad'],
    states: [
      { state: 'even', severity: 'note' },
      {
        state: 'uneven',
        severity: 'watch',
        causes: ['pins or channels binding'],
        actions: ['pins cleaned', 'channels bared'],
      },
      { state: 'edge lifting', severity: 'do not drive', causes: ['poor bonding'], actions: ['pads'] },
      { state: 'cracked', severity: 'do not drive', causes: ['heat'], actions: ['pads'] },
    ],
  },
  rotor: {
    test: false,
    places: ['outer face', 'inner face'],
    states: [
      { state: 'smooth', severity: 'note' },
      { state: 'grooved', severity: 'note', causes: ['dirt'] },
      { state: 'cracked', severity: 'do not drive', causes: ['heat'], actions: ['rotors new', 'pads'] },
      { state: 'glazed', severity: 'watch', causes: ['pads not bedded in', 'drag'], actions: ['rotors scuffed'] },
      {
        state: 'deeply scored',
        severity: 'before next use',
        causes: ['pads worn out'],
        actions: ['rotors machined'],
      },
      { state: 'hard spots', severity: 'watch', causes: ['heat'], actions: ['rotors machined'] },
      { state: 'heavy lip', severity: 'watch', causes: ['worn'], actions: ['rotors machined'] },
    ],
  },
  piston: {
    test: true,
    states: [
      { state: 'goes home', severity: 'note' },
      {
        state: 'only with bleeder open',
        severity: 'before next use',
        causes: ['hose collapsed inside'],
        actions: ['hose', 'bleed'],
      },
      {
        state: 'will not go home',
        severity: 'before next use',
        causes: ['piston seized'],
        actions: ['calipers', 'bleed'],
      },
    ],
  },
  bracket: {
    test: true,
    places: ['upper end', 'lower end'],
    states: [
      { state: 'channels clean', severity: 'note' },
      {
        state: 'rust in channels',
        severity: 'watch',
        causes: ['rust lifting the clips'],
        actions: ['channels bared', 'hardware'],
      },
      {
        state: 'worn steps',
        severity: 'before next use',
        causes: ['pads hammering'],
        actions: ['bracket', 'hardware'],
      },
    ],
  },
  hub: {
    test: false,
    states: [
      { state: 'clean', severity: 'note' },
      { state: 'rusty', severity: 'note', causes: ['salt'] },
      { state: 'play', severity: 'before next use', causes: ['bearing'], actions: ['find the cause'] },
    ],
  },
  hose: {
    test: true,
    places: ['at the caliper', 'at the body'],
    states: [
      { state: 'sound', severity: 'note' },
      { state: 'twisted', severity: 'before next use', causes: ['caliper turned over'], actions: ['hose', 'bleed'] },
      { state: 'cracked', severity: 'do not drive', causes: ['age'], actions: ['hose', 'bleed'] },
    ],
  },
  wheel: {
    test: false,
    states: [
      { state: 'comes off', severity: 'note' },
      { state: 'lock key missing', severity: 'watch', causes: ['key not in the vehicle'] },
      { state: 'nut seized', severity: 'watch', causes: ['rust', 'overtightened'] },
      { state: 'stud damaged', severity: 'before next use', causes: ['cross-threaded'], actions: ['find the cause'] },
    ],
  },
};

export const FINDING_ITEMS = Object.keys(FINDING_CATALOGUE) as FindingItem[];

/** The states of an item, as they are offered. */
export function statesOf(item: FindingItem): string[] {
  return FINDING_CATALOGUE[item].states.map(({ state }) => state);
}

/** Which of several an item can be found at; none where there is but one. */
export function placesOf(item: FindingItem): readonly string[] {
  return FINDING_CATALOGUE[item].places ?? [];
}

/** Whether a state passes: the first of its item. */
export function passes(item: FindingItem, state: string): boolean {
  return FINDING_CATALOGUE[item].states[0].state === state;
}

/** What is known of a state of an item; undefined where the catalogue has no such state. */
export function findingOf(item: string, state: string): State | undefined {
  if (!Object.hasOwn(FINDING_CATALOGUE, item)) return undefined;
  return FINDING_CATALOGUE[item as FindingItem].states.find((one) => one.state === state);
}

/** The worse of severities. */
export function worst(severities: readonly Severity[]): Severity | undefined {
  return [...severities].sort((a, b) => SEVERITIES.indexOf(b) - SEVERITIES.indexOf(a))[0];
}

/** What drivers and technicians complain of, in the trade's words, and what is looked at for it. Common practice, no source. */
export const COMPLAINTS = {
  squeal: { severity: 'watch', look: ['lining', 'rotor', 'bracket'], escalatesAfterDays: 28 },
  grinding: { severity: 'do not drive', look: ['lining', 'rotor'], escalatesAfterDays: 0 },
  'steering shakes': { severity: 'watch', look: ['rotor', 'hub'], escalatesAfterDays: 14 },
  'pedal pulses': { severity: 'watch', look: ['rotor', 'hub'], escalatesAfterDays: 14 },
  'pad lamp': { severity: 'watch', look: ['lining'], escalatesAfterDays: 7 },
  'fluid low': { severity: 'before next use', look: ['leak', 'hose', 'lining'], escalatesAfterDays: 0 },
  'soft pedal': { severity: 'do not drive', look: ['leak', 'hose', 'piston'], escalatesAfterDays: 0 },
  drag: { severity: 'watch', look: ['pins', 'piston', 'bracket', 'hose'], escalatesAfterDays: 7 },
  'wheel locked': { severity: 'do not drive', look: ['piston', 'pins', 'bracket'], escalatesAfterDays: 0 },
  'damp caliper': { severity: 'before next use', look: ['leak', 'hose'], escalatesAfterDays: 0 },
  'pads look thin': { severity: 'watch', look: ['lining'], escalatesAfterDays: 7 },
  'worn out early': { severity: 'watch', look: ['pins', 'piston', 'bracket', 'lining'], escalatesAfterDays: 28 },
  'noise after new pads': { severity: 'watch', look: ['rotor', 'bracket'], escalatesAfterDays: 28 },
  'two shops disagree': { severity: 'note', look: ['pins', 'lining', 'rotor'], escalatesAfterDays: 28 },
} as const satisfies Record<string, { severity: Severity; look: readonly FindingItem[]; escalatesAfterDays: number }>;
export type Complaint = keyof typeof COMPLAINTS;
export const COMPLAINT_KINDS = Object.keys(COMPLAINTS) as Complaint[];

/**
 * The severity of a defect that was left open: it rises by one step each time its days have run, up to *before next use*;
 * age alone never forbids driving.
 *
 * @param ageDays days since it was found
 * @param everyDays after how many days it rises; 0 where it stands as it is
 */
export function escalated(severity: Severity, ageDays: number, everyDays: number): Severity {
  const highest = SEVERITIES.indexOf('before next use');
  const own = SEVERITIES.indexOf(severity);
  if (everyDays <= 0 || own >= highest) return severity;
  const steps = Math.floor(Math.max(0, ageDays) / everyDays);
  return SEVERITIES[Math.min(highest, own + steps)] ?? severity;
}
