import type { ImportKind } from '@mile-mark/contract/imports';

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

const UNIT = field('unit', 'Unit number', true, /^(unit|unit_(no|number)|vehicle|truck|fleet_(no|number))$/);
const ODOMETER = /^(odometer|odo|miles|mileage|km|kilomet(er|re)s)(_(mi|miles|km|reading|at_start))*$/;

export const FIELDS: Record<ImportKind, readonly Field[]> = {
  readings: [
    field('date', 'Date', true, /^(date|day|measured(_on)?|inspected)$/),
    UNIT,
    field('odometer', 'Odometer', true, ODOMETER),
    field('wheel', 'Wheel', false, /^(wheel|corner|wheel_end|position)$/),
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
    field('note', 'Note', false, /^(notes?|remarks?|comments?)$/),
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
    field('tare_kg', 'Tare, kg', true, /^tare(_kg)?$/),
    field('gvwr_kg', 'GVWR, kg', true, /^(gvwr|gvw|rated_mass)(_kg)?$/),
    field('axle', 'Axle', true, /^axle$/),
    field('brake', 'Brake', true, /^brakes?$/),
    field('pad_new', 'Pad new, mm', true, /^pad_new(_mm)?$/),
    field('backing_plate', 'Backing plate, mm', true, /^backing_plate(_mm)?$/),
    field('pad_maker_min', 'Maker’s least, mm', true, /^pad_maker_min(_mm)?$/),
    field('rotor_new', 'Rotor new, mm', false, /^rotor_new(_mm)?$/),
    field('rotor_discard', 'Rotor discard, mm', false, /^rotor_discard(_mm)?$/),
    field('rotor_machine_to', 'Rotor machine-to, mm', false, /^rotor_machine_to(_mm)?$/),
    field('rotor_diameter', 'Rotor diameter, mm', false, /^rotor_diameter(_mm)?$/),
    field('pistons', 'Pistons, mm', false, /^pistons(_mm)?$/),
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

/** The kind of file whose fields the header fills best; undefined where no kind's needed fields are filled. */
export function guessKind(header: readonly string[]): ImportKind | undefined {
  const names = header.map(normaliseHeader);
  const fills = (kind: ImportKind, only?: (one: Field) => boolean) =>
    FIELDS[kind].filter((one) => (only?.(one) ?? true) && names.some((name) => one.headers.test(name))).length;
  const complete = (Object.keys(FIELDS) as ImportKind[]).filter(
    (kind) => fills(kind, ({ needed }) => needed) === FIELDS[kind].filter(({ needed }) => needed).length,
  );
  return complete.sort((a, b) => fills(b) - fills(a))[0];
}
