import type { NewTorqueTool } from '@mile-mark/contract/specifications';

type ToolInput = NewTorqueTool extends infer T ? (T extends unknown ? Omit<T, 'id'> : never) : never;
const wrench = (
  name: string,
  depot: string,
  drive: string,
  unit: 'N·m' | 'lbf·ft',
  range: [number, number],
  graduation: number,
  lengthMm: number,
  calibrationDue: string,
): ToolInput => ({
  kind: 'wrench',
  type: 'setting',
  name,
  depot,
  drive,
  unit,
  least: range[0],
  most: range[1],
  graduation,
  lengthMm,
  calibrationDue,
});

/** Three benches: one reaches everything, one has nothing for heavy wheels, one lets a calibration lapse. */
export const TOOLS: ToolInput[] = [
  wrench('Creamery small', 'Creamery yard', '1/4 in', 'N·m', [5, 25], 0.25, 190, '2027-04-10'),
  wrench('Creamery medium', 'Creamery yard', '3/8 in', 'N·m', [12, 60], 0.5, 300, '2027-04-10'),
  wrench('Creamery half-inch', 'Creamery yard', '1/2 in', 'N·m', [40, 200], 1, 450, '2027-02-20'),
  wrench('Creamery long', 'Creamery yard', '3/4 in', 'N·m', [160, 800], 5, 1150, '2027-06-01'),
  wrench('Northfold small', 'Northfold', '1/4 in', 'N·m', [5, 25], 0.25, 190, '2027-01-30'),
  wrench('Northfold medium', 'Northfold', '3/8 in', 'lbf·ft', [10, 50], 0.5, 310, '2027-01-30'),
  wrench('Northfold half-inch', 'Northfold', '1/2 in', 'lbf·ft', [26, 130], 1, 430, '2027-03-05'),
  {
    kind: 'adapter',
    name: 'Open end 21 mm on an arm',
    depot: 'Northfold',
    drive: '1/2 in',
    unit: 'N·m',
    most: 300,
    extensionMm: 90,
    endSize: '21 mm',
  },
  wrench('Saltmarsh small', 'Saltmarsh depot', '1/4 in', 'N·m', [5, 25], 0.25, 190, '2027-05-15'),
  wrench('Saltmarsh medium', 'Saltmarsh depot', '3/8 in', 'N·m', [12, 60], 0.5, 300, '2026-10-31'),
  wrench('Saltmarsh half-inch', 'Saltmarsh depot', '1/2 in', 'N·m', [40, 200], 1, 450, '2027-05-15'),
  {
    kind: 'multiplier',
    name: 'Multiplier 5 to 1',
    depot: 'Saltmarsh depot',
    drive: '3/4 in',
    unit: 'N·m',
    most: 1500,
    ratio: 5,
    calibrationDue: '2027-05-15',
  },
];
