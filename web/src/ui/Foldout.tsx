import { Popover } from 'radix-ui';
import { type ReactNode, useState } from 'react';

interface Props {
  /** What the button shows. */
  label: ReactNode;
  /** What the opened part is called to a screen reader. */
  name: string;
  /** Look of the button and of the opened part. */
  buttonLook: string;
  look: string;
  children: (close: () => void) => ReactNode;
}

/** A button under which more of the same stands; Escape or a press elsewhere folds it again. */
export function Foldout({ label, name, buttonLook, look, children }: Props) {
  const [open, setOpen] = useState(false);
  return (
    <Popover.Root open={open} onOpenChange={setOpen}>
      <Popover.Trigger className={buttonLook}>{label}</Popover.Trigger>
      <Popover.Portal>
        <Popover.Content align="end" aria-label={name} className={`z-40 shadow-lg ${look}`}>
          {children(() => setOpen(false))}
        </Popover.Content>
      </Popover.Portal>
    </Popover.Root>
  );
}
