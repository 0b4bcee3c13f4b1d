/** The models of the invented co-operative's vehicles; see `cast.ts`. */

/** Discs of the front axle by class, and smaller to the rear, mm. */
export const rotorDiameterMm = (kind: DemoModel['class'], index: number) =>
  ({ pickup: 338, van: 302, heavy: 430 })[kind] - 12 * index;

export interface DemoModel {
  name: string;
  class: 'pickup' | 'van' | 'heavy';
  prefix: string;
  share: number;
  tareKg: number;
  gvwrKg: number;
  inspectEvery: number;
  drive: string;
  wheelbaseMm: number;
  axleOption: string | null;
  reservoirMl?: number;
  lifting?: string;
  duties: string[];
  axles: {
    brake: 'hydraulic' | 'air';
    brakeDetail: string;
    padNew: number;
    plate: number;
    makerMin: number;
    rotor: [number, number, number];
    pistons: string | null;
    brakeShare: number;
    rate: number;
  }[];
}

export const MODELS: DemoModel[] = [
  {
    name: 'Tarnbrook Drover 4x4',
    class: 'pickup',
    prefix: 'P',
    share: 20,
    tareKg: 2300,
    gvwrKg: 3350,
    inspectEvery: 5500,
    drive: '4x4',
    wheelbaseMm: 3220,
    axleOption: null,
    reservoirMl: 120,
    lifting: 'Front: frame rail behind the lower arm. Rear: axle tube beside the spring seat.',
    duties: ['Farm rounds', 'Moor rounds'],
    axles: [
      {
        brake: 'hydraulic',
        brakeDetail: 'hydraulic sliding',
        padNew: 11,
        plate: 5.8,
        makerMin: 2,
        rotor: [32, 30, 30.4],
        pistons: '2x51',
        brakeShare: 0.7,
        rate: 0.19,
      },
      {
        brake: 'hydraulic',
        brakeDetail: 'hydraulic sliding, drum-in-hat parking brake',
        padNew: 10,
        plate: 5.5,
        makerMin: 2,
        rotor: [22, 20, 20.4],
        pistons: '1x54',
        brakeShare: 0.3,
        rate: 0.13,
      },
    ],
  },
  {
    name: 'Ostrey Carrier 35',
    class: 'van',
    prefix: 'V',
    share: 24,
    tareKg: 2150,
    gvwrKg: 3500,
    inspectEvery: 6000,
    drive: 'front',
    wheelbaseMm: 3665,
    axleOption: 'single rear wheels',
    reservoirMl: 140,
    lifting: 'Front: subframe pad. Rear: the marked seam of the sill, with a block.',
    duties: ['Village shops', 'Doorstep delivery'],
    axles: [
      {
        brake: 'hydraulic',
        brakeDetail: 'hydraulic sliding, wear sensor left',
        padNew: 12,
        plate: 6,
        makerMin: 2,
        rotor: [28, 26, 26.4],
        pistons: '2x48',
        brakeShare: 0.68,
        rate: 0.21,
      },
      {
        brake: 'hydraulic',
        brakeDetail: 'hydraulic sliding, screw-in piston',
        padNew: 11,
        plate: 5.5,
        makerMin: 2,
        rotor: [18, 16, 16.4],
        pistons: '1x48',
        brakeShare: 0.32,
        rate: 0.17,
      },
    ],
  },
  {
    name: 'Veldring 26 tanker',
    class: 'heavy',
    prefix: 'T',
    share: 16,
    tareKg: 11300,
    gvwrKg: 26000,
    inspectEvery: 14000,
    drive: '6x2',
    wheelbaseMm: 4800,
    axleOption: 'lifting third axle',
    duties: ['Vale collection', 'Fell collection'],
    axles: [
      {
        brake: 'air',
        brakeDetail: 'air disc',
        padNew: 21,
        plate: 9,
        makerMin: 2,
        rotor: [45, 37, 39],
        pistons: null,
        brakeShare: 0.34,
        rate: 0.12,
      },
      {
        brake: 'air',
        brakeDetail: 'air disc',
        padNew: 21,
        plate: 9,
        makerMin: 2,
        rotor: [45, 37, 39],
        pistons: null,
        brakeShare: 0.33,
        rate: 0.105,
      },
      {
        brake: 'air',
        brakeDetail: 'air disc',
        padNew: 21,
        plate: 9,
        makerMin: 2,
        rotor: [45, 37, 39],
        pistons: null,
        brakeShare: 0.33,
        rate: 0.095,
      },
    ],
  },
];

/** A fitting of the virtual fleet, from which its job is written. */
export interface DemoFitting {
  unit: string;
  model: DemoModel;
  depot: string;
  axle: number;
  date: string;
  odometerM: number;
  technician: string;
}
