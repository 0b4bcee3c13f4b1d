import jsQR from 'jsqr';
import { useEffect, useRef, useState } from 'react';
import { Button } from '../ui/Button.tsx';
import { scanUnit } from './scanUnit.ts';

const LOOK_EVERY_MS = 150;

/** The camera looks for a vehicle's label; nothing is recorded or sent. */
export function Scan({ onUnit, onClose }: { onUnit: (unit: string) => void; onClose: () => void }) {
  const video = useRef<HTMLVideoElement>(null);
  const found = useRef(onUnit);
  const [fault, setFault] = useState<string>();
  useEffect(() => {
    found.current = onUnit;
  }, [onUnit]);
  useEffect(() => {
    let stream: MediaStream | undefined;
    let timer: number | undefined;
    let over = false;
    const canvas = document.createElement('canvas');
    const look = () => {
      const shown = video.current;
      if (!shown || shown.videoWidth === 0) return;
      canvas.width = Math.min(640, shown.videoWidth);
      canvas.height = Math.round((canvas.width * shown.videoHeight) / shown.videoWidth);
      const context = canvas.getContext('2d', { willReadFrequently: true });
      context?.drawImage(shown, 0, 0, canvas.width, canvas.height);
      const image = context?.getImageData(0, 0, canvas.width, canvas.height);
      const code = image && jsQR(image.data, image.width, image.height, { inversionAttempts: 'dontInvert' });
      const unit = code && scanUnit(code.data);
      if (unit) found.current(unit);
    };
    const start = async () => {
      try {
        stream = await navigator.mediaDevices.getUserMedia({ video: { facingMode: 'environment' } });
        if (over || !video.current) return;
        video.current.srcObject = stream;
        await video.current.play();
        timer = window.setInterval(look, LOOK_EVERY_MS);
      } catch {
        if (!over) setFault('The camera can’t be used here. Type the unit number instead.');
      }
    };
    void start();
    return () => {
      over = true;
      window.clearInterval(timer);
      stream?.getTracks().forEach((track) => track.stop());
    };
  }, []);
  return (
    <section aria-label="Scan a label" className="flex flex-col gap-2">
      {fault ? (
        <p role="alert" className="font-medium text-brick">
          {fault}
        </p>
      ) : (
        <>
          <video ref={video} muted playsInline className="max-h-[50vh] w-full bg-black object-contain" />
          <p className="text-soft">Hold the label’s square code before the camera.</p>
        </>
      )}
      <div>
        <Button large onClick={onClose}>
          Type it instead
        </Button>
      </div>
    </section>
  );
}
