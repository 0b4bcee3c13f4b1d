/** A word of the trade or of this product, explained where it stands and in docs/glossary.md. */
export interface Term {
  term: string;
  told: string;
}

/** The terms, in alphabetical order; screens name them by their key. */
export const GLOSSARY = {
  appraiser: {
    term: 'Appraiser',
    told: 'A technician together with a gauge. Each reads a little high or low and scatters a little; both are learnt from pads that others measured too, and every reading is corrected by them.',
  },
  axleSet: { term: 'Axle set', told: 'The pads of both wheels of an axle, always changed together.' },
  bedIn: {
    term: 'Bedding in',
    told: 'A set number of stops from a set speed that lays friction material evenly on new rotors and pads. How many and how fast is the maker’s to say.',
  },
  chance: {
    term: 'Chance below the limit',
    told: 'How likely it is that the thinnest of an axle’s pads is below its service limit, from all readings and all that is not known of duty, wear and measuring.',
  },
  depot: { term: 'Depot', told: 'Where a vehicle is kept and worked on, with its own bays, bench and stock.' },
  dutyWeighted: {
    term: 'Duty-weighted miles',
    told: 'Miles counted by how hard they are on brakes: a mile under severity 2 counts twice. Pads wear evenly over them, whatever the route.',
  },
  interval: {
    term: '80 % interval',
    told: 'From the day before which one in ten such axles reaches its limit to the day by which nine in ten have. Records shows whether intervals held.',
  },
  kit: {
    term: 'Kit',
    told: 'All parts and consumables that one job takes. It is short while one of them is neither there nor comes in time.',
  },
  look: { term: 'Look', told: 'One visit on which somebody measured a vehicle, whatever was measured.' },
  markByCost: {
    term: 'Least cost a mile',
    told: 'Where planned service and the chance of a late one, which costs more, add up to the least for each mile driven. Where it comes before the chance you allow is reached, it sets the mark.',
  },
  mileMark: {
    term: 'Mile mark',
    told: 'The odometer reading, and the day it is reached, by which an axle must be done: where the chance of a pad below its limit reaches what you allow, or earlier where a mile costs least.',
  },
  pooled: {
    term: 'Pooled',
    told: 'What all readings of a pad say together, each carried to today by the wear since and weighed by how well its appraiser measures.',
  },
  reorderPoint: {
    term: 'Reorder point',
    told: 'As many units as suffice until an order is on the shelf, with the chance the shop wants. Where less is on hand and on order, it is time to order.',
  },
  retarder: {
    term: 'Retarder',
    told: 'An engine brake or retarder that takes part of the braking off the friction brakes. A duty says how far it is used; a model without one has its engine only.',
  },
  rotor: { term: 'Rotor', told: 'The disc that the pads press on.' },
  serviceLimit: {
    term: 'Service limit',
    told: 'The thinnest a pad may be: the largest of the legal minimum, the maker’s minimum and the shop’s margin. Local codes and licensed practice come first.',
  },
  severity: {
    term: 'Severity',
    told: 'How hard a duty is on an axle’s brakes, mile for mile, against the reference duty of its model: 2 wears pads twice as fast.',
  },
  twoPoints: {
    term: 'Line through two readings',
    told: 'What a forecast would be if only the last two readings of a pad counted. Records holds Mile Mark against it.',
  },
  worth: {
    term: 'What a look is worth',
    told: 'How many miles narrower the 80 % interval gets, on average, if somebody measures the axle now. Where it is large, measuring decides something; where it is small, it can wait.',
  },
} as const satisfies Record<string, Term>;
export type TermKey = keyof typeof GLOSSARY;

/** The glossary as Markdown, for docs/glossary.md. */
export function glossaryMarkdown(): string {
  const entries = Object.values(GLOSSARY).sort((a, b) => a.term.localeCompare(b.term));
  return [
    '# Glossary',
    '',
    'The words of the interface, as it explains them where they stand (`contract/src/words/glossary.ts`; written by `npm run glossary`, held equal by a test).',
    '',
    ...entries.map(({ term, told }) => `- **${term}**: ${told}`),
    '',
  ].join('\n');
}
