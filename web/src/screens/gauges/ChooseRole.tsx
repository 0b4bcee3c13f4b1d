import { Role } from '@mile-mark/contract';
import { Choose } from '../../ui/Choose.tsx';

/** What somebody does here, and so what they may. */
export function ChooseRole({ value, onChange }: { value: Role; onChange: (role: Role) => void }) {
  return (
    <Choose label="Role" value={value} onChange={(event) => onChange(Role.parse(event.target.value))}>
      {Role.options.map((role) => (
        <option key={role}>{role}</option>
      ))}
    </Choose>
  );
}
