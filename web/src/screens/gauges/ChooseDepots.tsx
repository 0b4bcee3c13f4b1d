import type { Role } from '@mile-mark/contract';
import { LIMITED_ROLES } from '@mile-mark/contract/people';
import { useDepots } from '../../api/register.ts';
import { Tick } from '../../ui/Tick.tsx';

interface Props {
  role: Role;
  value: readonly string[];
  onChange: (depots: string[]) => void;
  error?: string | undefined;
}

/** At which depots somebody works: what is at others is neither shown to them nor taken from them. */
export function ChooseDepots({ role, value, onChange, error }: Props) {
  const { data } = useDepots();
  if (!LIMITED_ROLES.includes(role) || !data || data.length < 2) return null;
  const names = [...new Set([...data.map(({ name }) => name), ...value])].sort();
  return (
    <fieldset className="sm:col-span-2">
      <legend className="mb-1">Works at</legend>
      <div className="flex flex-wrap gap-x-5 gap-y-1.5">
        {names.map((name) => (
          <Tick
            key={name}
            checked={value.includes(name)}
            onChange={(checked) => onChange(names.filter((one) => (one === name ? checked : value.includes(one))))}
          >
            {name}
          </Tick>
        ))}
      </div>
      <p className="mt-1 text-soft">
        {value.length === 0
          ? 'None ticked: at all depots.'
          : 'Vehicles, jobs, stock and orders of other depots are neither shown to them nor taken from them.'}
      </p>
      {error && (
        <p role="alert" className="text-brick">
          {error}
        </p>
      )}
    </fieldset>
  );
}
