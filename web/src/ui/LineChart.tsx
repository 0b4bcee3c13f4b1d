import { type ComponentProps, lazy, startTransition, Suspense, useEffect, useState } from 'react';
import type { Line } from 'react-chartjs-2';

const NotDrawn: typeof Line = () => (
  <p className="text-soft">The drawing couldn’t load; the figures stand beside it.</p>
);
const DrawnLines = lazy(() => import('./DrawnLines.tsx').catch(() => ({ default: NotDrawn })));

/** A chart of lines, drawn once the page around it stands: the figures answer a click, the drawing follows them. */
export function LineChart(props: ComponentProps<typeof Line>) {
  const [stands, setStands] = useState(false);
  useEffect(() => {
    let timer: ReturnType<typeof setTimeout> | undefined;
    const frame = requestAnimationFrame(() => {
      timer = setTimeout(() => startTransition(() => setStands(true)));
    });
    return () => {
      cancelAnimationFrame(frame);
      clearTimeout(timer);
    };
  }, []);
  return <Suspense>{stands && <DrawnLines {...props} />}</Suspense>;
}
