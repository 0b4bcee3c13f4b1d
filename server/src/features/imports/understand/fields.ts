import type { ImportKind } from '@mile-mark/contract/imports';
import { fieldAt, placeOf } from './places.ts';

/** A field that a column of a sheet may fill. */
export interface Field {
  field: string;
  label: string;
  needed: boolean;
  /** Headers (lower case, spaces and punctuation as single underscores) that mean this field. */
  headers: RegExp;
}

const field = (name: string, label: string, needed: boolean, headers: RegExp): Field => ({
  field: name,
  label,
  needed,
  headers,
});

/** The fields that several columns may fill. */
export const MANY: readonly string[] = ['ignore', 'note'];

const UNIT = field('unit', 'Unit number', true, /^(unit|unit_(no|number)|vehicle|truck|fleet_(no|number))$/);
const ODOMETER = /^(odometer|odo|miles|mileage|km|kilomet(er|re)s)(_(mi|miles|km|reading|at_start))*$/;

export const FIELDS: Record<ImportKind, readonly Field[]> = {
  readings: [
    field('date', 'Date', true, /^(date|day|measured(_on)?|inspected)$/),
    UNIT,
    field('odometer', 'Odometer', true, ODOMETER),
    field(
      'odometer_unit',
      'Unit of the odometer',
      false,
      /^(odometer_unit|unit_of_odometer|distance_unit|mi_or_km|mi_km)$/,
    ),
    field('technician', 'Who measured', false, /^(technician|tech|inspector|mechanic|measured_by|checked_by|who|by)$/),
    field('wheel', 'Wheel', false, /^(wheel|corner|wheel_end|position|place)$/),
    field('axle', 'Axle', false, /^axle$/),
    field('side', 'Side', false, /^side$/),
    field('pad', 'Pad (inner or outer)', false, /^(pad|inner_outer|inboard_outboard)$/),
    field('thickness', 'Thickness', false, /^(thickness|reading|value|measure(d|ment)?)(_(mm|in|inch|32nds))?$/),
    field('thickness_unit', 'Unit of thickness', false, /^(unit_of_thickness|thickness_unit|units?_of_measure)$/),
    field('inner', 'Thickness, inner pad', false, /^(inner|inboard|inside)(_(mm|in|32nds))?$/),
    field('outer', 'Thickness, outer pad', false, /^(outer|outboard|outside)(_(mm|in|32nds))?$/),
    field('left_inner', 'Thickness, left inner', false, /^(left|l)_(inner|inboard)(_(mm|in|32nds))?$/),
    field('left_outer', 'Thickness, left outer', false, /^(left|l)_(outer|outboard)(_(mm|in|32nds))?$/),
    field('right_inner', 'Thickness, right inner', false, /^(right|r)_(inner|inboard)(_(mm|in|32nds))?$/),
    field('right_outer', 'Thickness, right outer', false, /^(right|r)_(outer|outboard)(_(mm|in|32nds))?$/),
    field('gauge', 'Gauge', false, /^(gauge|gage|tool|instrument)$/),
    field('note', 'Note', false, /^(notes?|remarks?|comments?|other_notes?|more)(_\d+)?$/),
  ],
  vehicles: [
    UNIT,
    field('model', 'Model', true, /^model$/),
    field('depot', 'Depot', true, /^(depot|site|yard|base)$/),
    field('duty', 'Duty', true, /^(duty|route|cycle)$/),
    field('duty_from', 'Duty from', true, /^(duty_from|from|since|start(_date)?)$/),
    field('odometer', 'Odometer at start', false, ODOMETER),
  ],
  models: [
    field('model', 'Model', true, /^model$/),
    field('class', 'Class', true, /^class$/),
    field('tare_kg', 'Tare, kg', true, /^(tare|kerb_mass|empty_mass)$/),
    field('gvwr_kg', 'GVWR, kg', true, /^(gvwr|gvw|rated_mass)$/),
    field('axle', 'Axle', true, /^axle$/),
    field('brake', 'Brake', true, /^brakes?$/),
    field('pad_new', 'Pad new, mm', true, /^pad_new$/),
    field('backing_plate', 'Backing plate, mm', true, /^backing_plate$/),
    field('pad_maker_min', 'Maker’s least, mm', true, /^pad_maker_min$/),
    field('rotor_new', 'Rotor new, mm', false, /^rotor_new$/),
    field('rotor_discard', 'Rotor discard, mm', false, /^rotor_discard$/),
    field('rotor_machine_to', 'Rotor machine-to, mm', false, /^rotor_machine_to$/),
    field('rotor_diameter', 'Rotor diameter, mm', false, /^rotor_diameter$/),
    field('pistons', 'Pistons, mm', false, /^pistons$/),
    field('brake_share', 'Brake share', true, /^brake_share$/),
  ],
  parts: [
    field('part', 'Part number', true, /^(part|part_(no|number)|number|own_number)$/),
    field('name', 'Name', true, /^(name|what|description)$/),
    field('kind', 'Kind', true, /^(kind|type|category)$/),
    field('maker', 'Maker', true, /^(maker|manufacturer|make)$/),
    field('maker_number', 'Maker’s number', false, /^(maker(_s)?|manufacturer)_(no|number)$/),
    field('pieces', 'Pieces a unit holds', false, /^(pieces|unit_holds|per_unit)$/),
    field('content', 'Content, mL or g', false, /^(content|contents|volume|amount)(_(ml|g))?$/),
    field('model', 'Fits model', false, /^(model|fits|fits_model)$/),
    field('axle', 'Fits axle', false, /^(axle|fits_axle)$/),
    field('side', 'Fits side', false, /^(side|fits_side)$/),
    field('supplier', 'Supplier', false, /^(supplier|vendor|sold_by)$/),
    field('supplier_number', 'Supplier’s number', false, /^(supplier(_s)?|their)_(no|number)$/),
    field('price', 'Price', false, /^(price|unit_price|cost)$/),
    field('currency', 'Currency', false, /^currency$/),
    field('pack', 'Pack', false, /^(pack|pack_size)$/),
    field('least', 'Least order', false, /^(least|least_order|minimum_order)$/),
    field('lead_days', 'Days from order to shelf', false, /^(lead_days|lead_time|lead)$/),
    field('shelf_days', 'Days it keeps', false, /^(shelf_days|shelf_life|keeps)$/),
  ],
  stock: [
    field('part', 'Part number', true, /^(part|part_(no|number)|number|own_number)$/),
    field('depot', 'Depot', true, /^(depot|site|yard|base)$/),
    field('bin', 'Bin', true, /^(bin|shelf|location|place)$/),
    field('units', 'Units', true, /^(units|quantity|qty|on_hand|counted|count)$/),
    field('lot', 'Lot', false, /^(lot|batch)$/),
    field('expires', 'Last day it may be used', false, /^(expires|expires_on|expiry|best_before|use_by)$/),
  ],
  orders: [
    field('order', 'Order number', true, /^(order|order_(no|number)|po|po_(no|number)|reference)$/),
    field('supplier', 'Supplier', true, /^(supplier|vendor|sold_by)$/),
    field('depot', 'Depot', true, /^(depot|site|yard|base|deliver_to)$/),
    field('part', 'Part number', true, /^(part|part_(no|number)|number|own_number|item)$/),
    field('units', 'Units', true, /^(units|quantity|qty|ordered)$/),
    field('price', 'Price', true, /^(price|unit_price|cost)$/),
    field('currency', 'Currency', true, /^currency$/),
    field('ordered_on', 'Ordered on', true, /^(ordered_on|order_date|ordered|date|day)$/),
    field('promised_on', 'Promised for', false, /^(promised(_on|_for)?|due(_on)?|expected(_on)?|arrives)$/),
  ],
  duties: [
    field('duty', 'Duty', true, /^(duty|name)$/),
    field('stops_per_mile', 'Stops per mile', true, /^stops_per_mile$/),
    field('mph_before_stop', 'Speed before a stop, mph', true, /^mph_before_stop$/),
    field('payload_share', 'Payload share', true, /^payload_share$/),
    field('descent_m_per_mile', 'Descent, m per mile', true, /^descent_m_per_mile$/),
    field('retarder_share', 'Retarder share', true, /^retarder_share$/),
    field('towed_kg', 'Towed mass, kg', true, /^towed(_kg)?$/),
    field('miles_per_day', 'Miles a day', true, /^miles_(per|a)_day$/),
  ],
  services: [
    field('date', 'Date', true, /^(date|day|fitted_on)$/),
    UNIT,
    field('odometer', 'Odometer', true, ODOMETER),
    field('axle', 'Axle', true, /^axle$/),
    field('fitted', 'Fitted', true, /^(fitted|what|parts)$/),
    field('sides', 'Sides', false, /^sides?$/),
  ],
};

/** A header in the form the fields' patterns are written for. */
export function normaliseHeader(header: string): string {
  return header
    .trim()
    .toLowerCase()
    .replace(/[^a-z0-9]+/g, '_')
    .replace(/^_|_$/g, '');
}

/** Units that a header ends with: `inner_mm`, `miles`, `tare_lb`, `thickness_1_32_in`. */
const UNITS =
  /(?:^|_)(mm|millimet(?:er|re)s?|1_32(?:_in)?|32nds?|in|inch|inches|mi|miles?|km|kms|kilomet(?:er|re)s?|kg|lbs?)$/;

/** The unit a header tells, as its pattern found it. */
export function unitInHeader(header: string): 'mm' | 'in' | '1/32 in' | 'mi' | 'km' | 'kg' | 'lb' | undefined {
  const normal = normaliseHeader(header);
  const found = UNITS.exec(normal)?.[1] ?? /(?:^|_)(mi|miles|km)(?:_|$)/.exec(normal)?.[1];
  if (found === undefined) return undefined;
  if (/32/.test(found)) return '1/32 in';
  if (/^(mm|millim)/.test(found)) return 'mm';
  if (/^in/.test(found)) return 'in';
  if (/^mi/.test(found)) return 'mi';
  if (/^k(m|ilom)/.test(found)) return 'km';
  return found === 'kg' ? 'kg' : 'lb';
}

/** Which field each header names for this kind of file; `ignore` where none. Single fields are given once. */
export function columnsOf(kind: ImportKind, header: readonly string[]): string[] {
  const taken = new Set<string>();
  const besideOut = header.some((one) => /\bout\b/i.test(one));
  return header.map((one) => {
    const field = fieldOf(kind, one, besideOut, taken) ?? 'ignore';
    if (!MANY.includes(field)) taken.add(field);
    return field;
  });
}

function fieldOf(kind: ImportKind, header: string, besideOut: boolean, taken: Set<string>): string | undefined {
  const normal = normaliseHeader(header);
  const bare = normal.replace(UNITS, '');
  const free = ({ field }: Field) => MANY.includes(field) || !taken.has(field);
  const fields = FIELDS[kind].filter(free);
  const found =
    fields.find(({ headers }) => headers.test(normal)) ??
    (bare === '' ? undefined : fields.find(({ headers }) => headers.test(bare)));
  if (found || kind !== 'readings') return found?.field;
  // `LF in` beside `LF out` is a pad; `LF in` alone may be inches, whatever its place.
  const place =
    placeOf(header, besideOut) ??
    placeOf(header.trimEnd().replace(/(?<![\s(,])[\s(,]*(1\/32( in)?|32nds?|inch(es)?)\)?$/i, ''), besideOut);
  const at = place && fieldAt(place);
  return at && !taken.has(at) ? at : undefined;
}

/** How many fields of a kind a header names. */
export function namedFields(kind: ImportKind, header: readonly string[]): number {
  return new Set(columnsOf(kind, header).filter((field) => field !== 'ignore')).size;
}

/** The kind of file whose fields the header fills best; undefined where no kind's needed fields are filled. */
export function guessKind(header: readonly string[]): ImportKind | undefined {
  const complete = (Object.keys(FIELDS) as ImportKind[]).filter((kind) => {
    const filled = columnsOf(kind, header);
    return FIELDS[kind].every(({ field, needed }) => !needed || filled.includes(field));
  });
  return complete.sort((a, b) => namedFields(b, header) - namedFields(a, header))[0];
}
