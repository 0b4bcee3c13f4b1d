import { Migration } from '@mikro-orm/migrations';

/**
 * The figures of a released axle sheet stand beside those of the model list instead of over them: taking the sheet
 * back brings the list's figures back, and a sister variant is not given another's specification. What an earlier
 * release wrote over the list stays in it; the list's own figure is not known any more.
 */
export class Migration20261126150000_released_limits extends Migration {
  override up(): void {
    this.addSql(`alter table model_axle
      add column released_pad_min_um integer check (released_pad_min_um >= 0 and released_pad_min_um < pad_new_um),
      add column released_rotor_discard_um integer check (released_rotor_discard_um > 0 and released_rotor_discard_um < rotor_new_um),
      add column released_rotor_machine_to_um integer check (released_rotor_machine_to_um > 0 and released_rotor_machine_to_um <= rotor_new_um)`);
    this.addSql(`update model_axle a set
        released_pad_min_um = round((r.detail ->> 'padMinMm')::numeric * 1000),
        released_rotor_discard_um = round((r.detail ->> 'rotorDiscardMm')::numeric * 1000),
        released_rotor_machine_to_um = round((r.detail ->> 'rotorMachineToMm')::numeric * 1000)
      from specification s join specification_release r on r.revision_id = s.released_revision_id
      where s.model_id = a.model_id and s.axle = a.axle and s.joint_kind_id is null`);
  }

  override down(): void {
    this.addSql(`alter table model_axle drop column released_pad_min_um, drop column released_rotor_discard_um,
      drop column released_rotor_machine_to_um`);
  }
}
