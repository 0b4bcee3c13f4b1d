import { useEffect, useState } from 'react';
import { device, type Draft } from '../../../stores/device.ts';
import type { Action, Wheel } from './draft.ts';
import { shrinkPhoto } from '../../../ui/shrinkPhoto.ts';

/** Photos of a wheel: shrunk on the device, without EXIF, sent after the inspection. */
export function PhotoPart({ draft, wheel, act }: { draft: Draft; wheel: Wheel; act: (action: Action) => void }) {
  const [fault, setFault] = useState<string>();
  const [busy, setBusy] = useState(false);
  const own = draft.photos.filter(({ axle, side }) => axle === wheel.axle && side === wheel.side);
  const take = async (file: File | undefined) => {
    if (!file) return;
    setBusy(true);
    setFault(undefined);
    try {
      const id = crypto.randomUUID();
      await device.photos.put({ id, jpeg: await shrinkPhoto(file) });
      act({ kind: 'photo', photo: { id, ...wheel, takenAt: new Date().toISOString() } });
    } catch (error) {
      setFault((error as Error).message);
    } finally {
      setBusy(false);
    }
  };
  return (
    <div className="flex flex-col gap-3">
      <label className="flex min-h-16 w-full max-w-sm cursor-pointer items-center justify-center rounded border border-line bg-raised text-lg font-semibold focus-within:outline-2 hover:border-ink">
        {busy ? 'Shrinking …' : 'Take a photo'}
        <input
          type="file"
          accept="image/*"
          capture="environment"
          aria-label="Take a photo"
          className="sr-only"
          onChange={(event) => {
            void take(event.target.files?.[0]);
            event.target.value = '';
          }}
        />
      </label>
      {fault && (
        <p role="alert" className="font-medium text-brick">
          {fault}
        </p>
      )}
      <ul className="flex flex-wrap gap-3">
        {own.map(({ id }) => (
          <li key={id} className="flex flex-col gap-1">
            <Thumbnail id={id} />
            <button
              type="button"
              className="min-h-12 rounded border border-line bg-raised px-3"
              onClick={() => act({ kind: 'no_photo', id })}
            >
              Leave out
            </button>
          </li>
        ))}
      </ul>
      <p className="text-soft">
        Made smaller on this device; place and device data are left out. Mind who is in the picture.
      </p>
    </div>
  );
}

function Thumbnail({ id }: { id: string }) {
  const [url, setUrl] = useState<string>();
  useEffect(() => {
    let made: string | undefined;
    let gone = false;
    void device.photos.get(id).then((photo) => {
      if (!photo || gone) return;
      made = URL.createObjectURL(photo.jpeg);
      setUrl(made);
    });
    return () => {
      gone = true;
      if (made) URL.revokeObjectURL(made);
    };
  }, [id]);
  return url ? <img src={url} alt="Photo of this wheel" className="h-36 rounded border border-line" /> : <span>…</span>;
}
