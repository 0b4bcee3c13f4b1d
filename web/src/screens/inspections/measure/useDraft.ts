import { useEffect, useState } from 'react';
import type { BayVehicle } from '@mile-mark/contract/inspections';
import type { Me } from '@mile-mark/contract/people';
import type { BayState } from '../../../stores/bay.ts';
import { device, type Draft } from '../../../stores/device.ts';
import { type Action, apply, newDraft } from './draft.ts';

const GAUGE_KEY = 'mile-mark.gauge';

interface Kept {
  draft: Draft;
  past: Draft[];
}

/** The inspection of a vehicle as it is being captured: kept on the device at every touch, each touch undoable. */
export function useDraft({ bay, heard }: Pick<BayState, 'bay' | 'heard'>, vehicle: BayVehicle, me: Me) {
  const [kept, setKept] = useState<Kept>();
  useEffect(() => {
    let gone = false;
    void device.drafts.get(vehicle.unit).then((found) => {
      if (gone) return;
      const gaugeId = localStorage.getItem(GAUGE_KEY) ?? '';
      const who = {
        technicianId: me.role === 'technician' ? me.id : '',
        gaugeId: bay.gauges.some(({ id }) => id === gaugeId) ? gaugeId : '',
        odometerUnit: me.distanceUnit,
        heard,
      };
      setKept((before) => before ?? { draft: found ?? newDraft(bay, vehicle.unit, who), past: [] });
    });
    return () => {
      gone = true;
    };
  }, [bay, heard, vehicle.unit, me]);

  const save = (draft: Draft, past: Draft[]) => {
    setKept({ draft, past });
    void device.drafts.put(draft);
  };
  return {
    draft: kept?.draft,
    undoable: (kept?.past.length ?? 0) > 0,
    act: (action: Action) => {
      if (!kept) return;
      if (action.kind === 'head' && action.set.gaugeId) localStorage.setItem(GAUGE_KEY, action.set.gaugeId);
      save(apply(kept.draft, action), [...kept.past.slice(-199), kept.draft]);
    },
    undo: () => {
      const before = kept?.past.at(-1);
      if (kept && before) save(before, kept.past.slice(0, -1));
    },
  };
}
