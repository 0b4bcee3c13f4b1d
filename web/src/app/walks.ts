import type { Role } from '@mile-mark/contract';

/** A stop of a first walk: a place, what one does there, and where it is. */
export interface Stop {
  name: string;
  told: string;
  to: string;
}

/** What each role is shown first: its own day, in the order in which it comes. */
export const WALKS: Record<Role, readonly Stop[]> = {
  coordinator: [
    {
      name: 'Ahead',
      told: 'A lane for each vehicle, a post for each axle at its mile mark. Choose a post: the panel says why that date, and what to do next. “Legend” explains what is drawn.',
      to: '/',
    },
    {
      name: 'Questions',
      told: 'Readings that do not fit wait here with their likely mistake. Keys 1 to 4 settle them; every answer can be taken back.',
      to: '/questions',
    },
    {
      name: 'Plan',
      told: 'The weeks ahead, booked into days, bays and people by what it costs. Say under Shop how your shops work, propose a plan, and publish it when it is right.',
      to: '/plan',
    },
    {
      name: 'Jobs',
      told: 'Book work from a post, see what is in work, and settle what was found. A job has a service card that the technician signs.',
      to: '/jobs',
    },
    {
      name: 'Import',
      told: 'Your own sheets of vehicles, duties and readings. Nothing is taken in before you have seen how it was understood.',
      to: '/import',
    },
    {
      name: 'Records',
      told: 'How past forecasts came out: whether the intervals held, and what was widened where they did not.',
      to: '/records',
    },
  ],
  technician: [
    {
      name: 'Measure',
      told: 'Type the unit or scan its label. Wheel by wheel: two pads, what you found, a photo. It works without a network and is sent later.',
      to: '/measure',
    },
    {
      name: 'My last sheets',
      told: 'Measured the wrong vehicle? Under Measure each of your sheets of today can be moved or withdrawn in one step.',
      to: '/measure',
    },
    {
      name: 'Jobs',
      told: 'The service card of a job: one step at a time, with its torque and wrench, signed as you go.',
      to: '/jobs',
    },
    {
      name: 'Specifications',
      told: 'Torques of any axle, to be read from a metre away. What nobody has released is said to be unknown.',
      to: '/specifications',
    },
  ],
  'parts keeper': [
    {
      name: 'Parts',
      told: 'Your day: what to pick, what is short for the next ten days, what to order, receive and count.',
      to: '/parts',
    },
    {
      name: 'Jobs',
      told: 'What is booked and what each job takes, axle by axle: parts, one-time-use pieces, consumables.',
      to: '/jobs',
    },
    { name: 'Ahead', told: 'What is coming, by depot and week: the bars above the road count axles.', to: '/' },
    {
      name: 'Specifications',
      told: 'Sizes, threads and limits by model, where an order has to fit.',
      to: '/specifications',
    },
  ],
  viewer: [
    {
      name: 'This week',
      told: 'What must not wait, on one page: vehicles not to be driven, marks, jobs, findings, wrenches. It prints as PDF.',
      to: '/this-week',
    },
    { name: 'Ahead', told: 'Every axle’s mile mark on one road; choose a post to see why that date.', to: '/' },
    { name: 'Records', told: 'How past forecasts came out.', to: '/records' },
  ],
};
