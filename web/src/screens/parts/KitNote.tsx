import { Link } from 'react-router';
import { kitStateInWords } from '@mile-mark/contract/words';
import { useJobKits } from '../../api/parts.ts';

/** Whether a vehicle's job has its kit, in a few words, for panels. */
export function KitNote({ unit }: { unit: string }) {
  const kit = useJobKits().data?.find((one) => one.unit === unit);
  if (!kit) return null;
  return (
    <p className="order-last basis-full">
      <Link
        className={`underline decoration-line underline-offset-4 ${kit.state === 'short' ? 'font-semibold text-brick' : ''}`}
        to={`/jobs/${kit.jobId}`}
      >
        {kitStateInWords(kit)}
      </Link>
    </p>
  );
}
