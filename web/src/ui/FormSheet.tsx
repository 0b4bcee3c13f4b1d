import type { FormEvent, ReactNode } from 'react';
import { Button } from './Button.tsx';
import { Modal } from './Modal.tsx';

interface Props {
  title: string;
  /** What the button that saves says. */
  save: string;
  error: (Error & { problem?: { errors?: readonly unknown[] | undefined } }) | null;
  /** Whether it can't be saved as it stands, or is being saved. */
  disabled: boolean;
  wide?: boolean;
  onSave: () => void;
  onClose: () => void;
  children: ReactNode;
}

/** A form in a sheet over the screen: fields, what was refused of it as a whole, and its one verb. */
export function FormSheet({ title, save, error, disabled, wide = false, onSave, onClose, children }: Props) {
  const atFields = Boolean(error?.problem?.errors?.length);
  const submit = (event: FormEvent) => {
    event.preventDefault();
    if (!disabled) onSave();
  };
  return (
    <Modal open onClose={onClose} title={title} wide={wide}>
      <form className="flex flex-col gap-3 text-left" onSubmit={submit}>
        {children}
        {error && !atFields && (
          <p role="alert" className="max-w-prose font-medium text-brick">
            {error.message}
          </p>
        )}
        <div className="flex gap-2">
          <Button type="submit" look="next" disabled={disabled}>
            {save}
          </Button>
          <Button onClick={onClose}>Leave it</Button>
        </div>
      </form>
    </Modal>
  );
}
