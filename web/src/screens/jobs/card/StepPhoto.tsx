import { Camera } from 'lucide-react';
import { useState } from 'react';
import { toast } from 'sonner';
import { useMe } from '../../../api/people.ts';
import { device } from '../../../stores/device.ts';
import { useOutbox } from '../../../stores/outbox.ts';
import { shrinkPhoto } from '../../../ui/shrinkPhoto.ts';

/** A photo of this step: shrunk on the device, kept there, sent when the network allows. */
export function StepPhoto({ jobId, unit, step }: { jobId: string; unit: string; step: string }) {
  const me = useMe();
  const { keep } = useOutbox();
  const [busy, setBusy] = useState(false);
  const take = async (file: File | undefined) => {
    if (!file) return;
    setBusy(true);
    try {
      const id = crypto.randomUUID();
      const takenAt = new Date().toISOString();
      await device.photos.put({ id, jpeg: await shrinkPhoto(file) });
      await keep([
        { kind: 'job photo', id, personId: me.id, unit, keptAt: takenAt, jobId, body: { id, jobId, step, takenAt } },
      ]);
      toast('The photo is kept with this step.');
    } catch (error) {
      toast((error as Error).message);
    } finally {
      setBusy(false);
    }
  };
  return (
    <label className="flex min-h-12 cursor-pointer items-center gap-2 rounded border border-line bg-raised px-4 text-lg focus-within:outline-2 hover:border-ink">
      <Camera aria-hidden className="size-5" />
      {busy ? 'Shrinking …' : 'Photo'}
      <input
        type="file"
        accept="image/*"
        capture="environment"
        aria-label="Photo of this step"
        className="sr-only"
        onChange={(event) => {
          void take(event.target.files?.[0]);
          event.target.value = '';
        }}
      />
    </label>
  );
}
