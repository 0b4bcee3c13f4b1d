import type { ConstraintWords } from './platform/http/problem.ts';

/** Constraints of the database in words, for what the code let through (two people at once, most often). */
export const CONSTRAINTS: ConstraintWords = {
  reading_identity: {
    field: 'readings',
    message: 'This reading is already in: same technician, vehicle, place, day, odometer and value.',
  },
  odometer_rises: {
    field: 'odometer',
    message: 'The odometer would fall against another entry on record; a figure between its neighbours is accepted.',
  },
  duty_period_vehicle_id_daterange_excl: {
    field: 'from',
    message: 'The vehicle has another duty from this day on record; a later day is accepted.',
  },
  vehicle_unit_key: { field: 'unit', message: 'This unit number is taken; another is accepted.' },
  vehicle_left: { field: 'unit', message: 'This vehicle left the fleet before that day.' },
  vehicle_move_open: {
    field: 'on',
    message: 'Another move of this vehicle is open; take that one back first.',
  },
  depot_name_key: { field: 'name', message: 'There is a depot of this name already; another name is accepted.' },
  depot_name_alike: { field: 'name', message: 'There is a depot of this name already; another name is accepted.' },
  model_name: { field: 'name', message: 'There is a model of this name already; another name is accepted.' },
  person_email: { field: 'email', message: 'This e-mail address has an account already.' },
  person_name: { field: 'name', message: 'A person of this name is on record already.' },
  gauge_name: { field: 'name', message: 'A gauge of this name is on record already.' },
  service_once: { field: 'date', message: 'This service is already in.' },
  gauge_study_name: { field: 'name', message: 'A study of this name is on record already.' },
  question_answer_reading: { field: 'id', message: 'Somebody settled this question meanwhile.' },
  question_answer_inspection: { field: 'id', message: 'Somebody settled this question meanwhile.' },
  inspection_supersedes_id_key: { field: 'id', message: 'Somebody corrected this odometer meanwhile.' },
  reading_supersedes_id_key: {
    field: 'id',
    message: 'Somebody corrected this reading meanwhile; look at the newer one.',
  },
  job_one_open: {
    field: 'unit',
    message: 'This vehicle has an open job already; change that one, or call it off first.',
  },
  job_move_legal: { field: 'verb', message: 'A job that stands as this one does can’t be moved so.' },
  defect_closed_once: { field: 'how', message: 'Somebody closed this defect meanwhile.' },
  defect_source_id_key: { field: 'id', message: 'This is on record as a defect already.' },
};
