import type { EntityManager } from '../platform/db/orm.ts';
import { DEPOTS, DUTIES, GAUGES, STAFF, TECHNICIANS } from './cast.ts';
import { MODELS, rotorDiameterMm } from './castModels.ts';
import { gaugeId, idOf, insert, personId } from './rows.ts';

/** Staff, technicians without a sign-in, and their gauges. */
export async function insertPeople(em: EntityManager, passwordHash: string): Promise<void> {
  const staff = STAFF.map(({ address, distanceUnit, thicknessUnit, name, role }) => ({
    id: personId(name),
    name,
    role,
    email: `${address}@linden-vale.example`,
    password_hash: passwordHash,
    distance_unit: distanceUnit,
    thickness_unit: thicknessUnit,
    // The other two are shown around when they come first.
    walked: role === 'coordinator' || role === 'technician',
  }));
  const appraisers = TECHNICIANS.filter(({ name }) => !STAFF.some((one) => one.name === name)).map(
    ({ name, gauge }) => ({
      id: personId(name),
      name,
      role: 'technician',
      email: null,
      password_hash: null,
      distance_unit: 'mi',
      thickness_unit: gauge.unit,
      walked: false,
    }),
  );
  await insert(
    em,
    'person',
    'id uuid, name text, role text, email text, password_hash text, distance_unit text, thickness_unit text, walked boolean',
    [...staff, ...appraisers],
  );
  await insert(
    em,
    'gauge',
    'id uuid, name text, kind text, resolution_um float8, unit text, calibration_due date',
    Object.values(GAUGES).map((gauge, index) => ({
      id: gaugeId(gauge),
      name: gauge.name,
      kind: gauge.kind,
      resolution_um: gauge.resolutionMm * 1000,
      unit: gauge.unit,
      calibration_due: `2027-0${index + 1}-15`,
    })),
  );
}

/** Depots, duties, models and their axles. */
export async function insertRegister(em: EntityManager): Promise<void> {
  await insert(
    em,
    'depot',
    'id uuid, name text',
    DEPOTS.map((name) => ({ id: idOf('depot', name), name })),
  );
  await insert(
    em,
    'duty',
    'id uuid, name text, stops_per_mile float8, mph_before_stop float8, payload_share float8, descent_m_per_mile float8, retarder_share float8, towed_kg float8, miles_per_day float8',
    DUTIES.map((duty) => ({
      id: idOf('duty', duty.name),
      name: duty.name,
      stops_per_mile: duty.stopsPerMile,
      mph_before_stop: duty.mphBeforeStop,
      payload_share: duty.payloadShare,
      descent_m_per_mile: duty.descentMPerMile,
      retarder_share: duty.retarderShare,
      towed_kg: duty.towedKg,
      miles_per_day: duty.milesPerDay,
    })),
  );
  await insert(
    em,
    'model',
    'id uuid, name text, class text, tare_kg int, gvwr_kg int, reference_duty_id uuid, drive text, wheelbase_mm int, axle_option text, reservoir_ml int, lifting_points text, retarder boolean',
    MODELS.map((model) => ({
      id: idOf('model', model.name),
      name: model.name,
      class: model.class,
      tare_kg: model.tareKg,
      gvwr_kg: model.gvwrKg,
      reference_duty_id: idOf('duty', model.duties[0] ?? ''),
      drive: model.drive,
      wheelbase_mm: model.wheelbaseMm,
      axle_option: model.axleOption,
      reservoir_ml: model.reservoirMl ?? null,
      lifting_points: model.lifting ?? null,
      retarder: model.class === 'heavy',
    })),
  );
  await insert(
    em,
    'model_axle',
    'id uuid, model_id uuid, axle int, brake text, brake_detail text, pad_new_um int, backing_plate_um int, pad_maker_min_um int, rotor_new_um int, rotor_discard_um int, rotor_machine_to_um int, rotor_diameter_um int, pistons_mm text, brake_share float8',
    MODELS.flatMap((model) =>
      model.axles.map((axle, index) => ({
        id: idOf('axle', model.name, index),
        model_id: idOf('model', model.name),
        axle: index + 1,
        brake: axle.brake,
        brake_detail: axle.brakeDetail,
        pad_new_um: axle.padNew * 1000,
        backing_plate_um: axle.plate * 1000,
        pad_maker_min_um: axle.makerMin * 1000,
        rotor_new_um: axle.rotor[0] * 1000,
        rotor_discard_um: axle.rotor[1] * 1000,
        rotor_machine_to_um: axle.rotor[2] * 1000,
        rotor_diameter_um: rotorDiameterMm(model.class, index) * 1000,
        pistons_mm: axle.pistons,
        brake_share: axle.brakeShare,
      })),
    ),
  );
}
