import { useEndSession, useOwnSessions } from '../api/people.ts';
import { Button } from '../ui/Button.tsx';
import { formatDate, formatTime } from '../ui/format.ts';

/** A browser's name of itself, in the one word that tells devices apart. */
function deviceInWords(device: string): string {
  const kinds = [
    [/iPad|Tablet/i, 'a tablet'],
    [/Android(?!.*Mobile)/, 'a tablet'],
    [/iPhone|Mobile/i, 'a phone'],
    [/Windows/, 'a Windows computer'],
    [/Macintosh/, 'a Mac'],
    [/Linux/, 'a Linux computer'],
  ] as const;
  return kinds.find(([sign]) => sign.test(device))?.[1] ?? 'a device that gave no name';
}

/** Where oneself is signed in, to be ended one by one: a tablet left in another depot. */
export function OwnSessions() {
  const sessions = useOwnSessions();
  const end = useEndSession();
  const others = sessions.data?.filter(({ current }) => !current) ?? [];
  if (others.length === 0) return null;
  return (
    <div>
      <h3 className="font-semibold">Signed in elsewhere</h3>
      <ul>
        {others.map(({ id, device, since }) => (
          <li key={id} className="flex flex-wrap items-baseline justify-between gap-x-3 py-1">
            <span>
              {deviceInWords(device)}, since {formatDate(since)} {formatTime(since)}
            </span>
            <Button
              look="bare"
              aria-label={`End the sign-in on ${deviceInWords(device)} of ${formatDate(since)} ${formatTime(since)}`}
              disabled={end.isPending}
              onClick={() => end.mutate(id)}
            >
              End it
            </Button>
          </li>
        ))}
      </ul>
      {end.isError && (
        <p role="alert" className="text-brick">
          {end.error.message}
        </p>
      )}
    </div>
  );
}
