import { addDays, differenceInCalendarDays, format, parseISO } from 'date-fns';

/** The record's day, and the device's own, when the device last heard of the record. ISO. */
export interface DayHeard {
  today: string;
  here: string;
}

/** The device's own day, ISO. */
export const dayHere = (now = new Date()): string => format(now, 'yyyy-MM-dd');

/**
 * Which day it is by the device's clock: as many days after the record's as have passed here since it was heard of. A
 * clock that is some days off counts right as long as it only goes on; one that was set meanwhile shows by it.
 */
export function dayOnDevice({ today, here }: DayHeard, now = new Date()): string {
  return dayHere(addDays(parseISO(today), differenceInCalendarDays(now, parseISO(here))));
}
