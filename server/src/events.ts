import { z } from 'zod';
import { eventKind, type DomainEvent } from './platform/events/bus.ts';

/** Everything that can happen on record, in one list: features tell it here and subscribe to it by these names. */

const OfVehicles = z.object({ vehicleIds: z.array(z.uuid()) });
const OfFleet = z.object({});

export const readingsKept = eventKind('readings kept', OfVehicles);
export const readingCorrected = eventKind('reading corrected', OfVehicles);
export const odometerCorrected = eventKind('odometer corrected', OfVehicles);
export const questionSettled = eventKind('question settled', OfVehicles);
export const changeSettled = eventKind('change settled', OfVehicles);
export const padsFitted = eventKind('pads fitted', OfVehicles);
export const vehicleEntered = eventKind('vehicle entered', OfVehicles);
export const vehicleChanged = eventKind('vehicle changed', OfVehicles);
export const vehicleLeft = eventKind('vehicle left', OfVehicles);
export const modelCorrected = eventKind('model corrected', OfVehicles);
export const depotChanged = eventKind('depot changed', OfFleet);
export const dutyBegun = eventKind('duty begun', OfVehicles);
export const variantStated = eventKind('variant stated', OfVehicles);
export const limitEntered = eventKind('limit entered', OfFleet);
export const settingsChanged = eventKind('settings changed', OfFleet);
export const specificationReleased = eventKind('specification released', OfVehicles);
export const specificationWithdrawn = eventKind('specification withdrawn', OfVehicles);
export const recordsImported = eventKind('records imported', OfVehicles);
export const importTakenBack = eventKind('import taken back', OfVehicles);
export const rowMended = eventKind('row mended', OfVehicles);
export const milesDriven = eventKind('miles driven', OfVehicles);
export const studyMeasured = eventKind('study measured', OfFleet);
export const studyImported = eventKind('study imported', OfFleet);
export const stockMoved = eventKind('stock moved', OfFleet);
export const catalogueChanged = eventKind('catalogue changed', OfFleet);
export const orderMoved = eventKind('order moved', OfFleet);
export const jobMoved = eventKind('job moved', OfVehicles);
export const shopChanged = eventKind('shop changed', OfFleet);
export const planAsked = eventKind('plan asked', OfFleet);
export const planPublished = eventKind('plan published', OfFleet);

const KINDS = [
  readingsKept,
  readingCorrected,
  odometerCorrected,
  questionSettled,
  changeSettled,
  padsFitted,
  vehicleEntered,
  vehicleChanged,
  vehicleLeft,
  modelCorrected,
  depotChanged,
  dutyBegun,
  variantStated,
  limitEntered,
  settingsChanged,
  specificationReleased,
  specificationWithdrawn,
  recordsImported,
  importTakenBack,
  rowMended,
  milesDriven,
  studyMeasured,
  studyImported,
  stockMoved,
  catalogueChanged,
  orderMoved,
  jobMoved,
  shopChanged,
  planAsked,
  planPublished,
] as const;

/** The name of any of them. */
export type EventName = (typeof KINDS)[number]['eventName'];

/**
 * The vehicles an event names; none where it is of the whole fleet.
 *
 * @throws Error where nothing of this name can happen; ZodError where it is told in another shape
 */
export function vehiclesOf({ name, payload }: DomainEvent): string[] {
  const kind = KINDS.find(({ eventName }) => eventName === name);
  if (!kind) throw new Error(`nothing called “${name}” can happen`);
  const told: { vehicleIds?: string[] } = kind.parse(payload);
  return told.vehicleIds ?? [];
}
