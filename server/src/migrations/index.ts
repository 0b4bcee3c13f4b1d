import type { Migrations } from '../platform/db/orm.ts';
import { Migration20261125000000_create_spine } from './Migration20261125000000_create_spine.ts';
import { Migration20261125120000_hands_and_capture } from './Migration20261125120000_hands_and_capture.ts';
import { Migration20261125180000_validation } from './Migration20261125180000_validation.ts';
import { Migration20261125220000_duty_and_changes } from './Migration20261125220000_duty_and_changes.ts';
import { Migration20261126090000_specifications } from './Migration20261126090000_specifications.ts';
import { Migration20261126150000_released_limits } from './Migration20261126150000_released_limits.ts';
import { Migration20261126200000_outbox_and_jobs } from './Migration20261126200000_outbox_and_jobs.ts';
import { Migration20261127010000_duty_process } from './Migration20261127010000_duty_process.ts';
import { Migration20261127040000_calibration } from './Migration20261127040000_calibration.ts';
import { Migration20261127090000_jobs } from './Migration20261127090000_jobs.ts';
import { Migration20261127140000_what_jobs_teach } from './Migration20261127140000_what_jobs_teach.ts';
import { Migration20261128090000_taken_back } from './Migration20261128090000_taken_back.ts';
import { Migration20261128180000_parts } from './Migration20261128180000_parts.ts';
import { Migration20261128200000_kit_changes } from './Migration20261128200000_kit_changes.ts';
import { Migration20261129010000_rotor_diameter } from './Migration20261129010000_rotor_diameter.ts';
import { Migration20261129090000_plan } from './Migration20261129090000_plan.ts';
import { Migration20261129120000_import_withdrawal } from './Migration20261129120000_import_withdrawal.ts';
import { Migration20261129140000_service_withdrawal } from './Migration20261129140000_service_withdrawal.ts';
import { Migration20261130090000_fleet_kept_up } from './Migration20261130090000_fleet_kept_up.ts';
import { Migration20261130120000_sessions_seen } from './Migration20261130120000_sessions_seen.ts';
import { Migration20261201090000_import_drafts } from './Migration20261201090000_import_drafts.ts';

/** Every migration, in order; a new one is added at the end. */
export const MIGRATIONS: Migrations = [
  { name: 'Migration20261125000000_create_spine', class: Migration20261125000000_create_spine },
  { name: 'Migration20261125120000_hands_and_capture', class: Migration20261125120000_hands_and_capture },
  { name: 'Migration20261125180000_validation', class: Migration20261125180000_validation },
  { name: 'Migration20261125220000_duty_and_changes', class: Migration20261125220000_duty_and_changes },
  { name: 'Migration20261126090000_specifications', class: Migration20261126090000_specifications },
  { name: 'Migration20261126150000_released_limits', class: Migration20261126150000_released_limits },
  { name: 'Migration20261126200000_outbox_and_jobs', class: Migration20261126200000_outbox_and_jobs },
  { name: 'Migration20261127010000_duty_process', class: Migration20261127010000_duty_process },
  { name: 'Migration20261127040000_calibration', class: Migration20261127040000_calibration },
  { name: 'Migration20261127090000_jobs', class: Migration20261127090000_jobs },
  { name: 'Migration20261127140000_what_jobs_teach', class: Migration20261127140000_what_jobs_teach },
  { name: 'Migration20261128090000_taken_back', class: Migration20261128090000_taken_back },
  { name: 'Migration20261128180000_parts', class: Migration20261128180000_parts },
  { name: 'Migration20261128200000_kit_changes', class: Migration20261128200000_kit_changes },
  { name: 'Migration20261129010000_rotor_diameter', class: Migration20261129010000_rotor_diameter },
  { name: 'Migration20261129090000_plan', class: Migration20261129090000_plan },
  { name: 'Migration20261129120000_import_withdrawal', class: Migration20261129120000_import_withdrawal },
  { name: 'Migration20261129140000_service_withdrawal', class: Migration20261129140000_service_withdrawal },
  { name: 'Migration20261130090000_fleet_kept_up', class: Migration20261130090000_fleet_kept_up },
  { name: 'Migration20261130120000_sessions_seen', class: Migration20261130120000_sessions_seen },
  { name: 'Migration20261201090000_import_drafts', class: Migration20261201090000_import_drafts },
];
