import { useId, type InputHTMLAttributes, type ReactNode } from 'react';

export interface Frame {
  label: string;
  /** What is wrong and what would be accepted. */
  error?: string | undefined;
  hint?: string | undefined;
  large?: boolean;
  hideLabel?: boolean;
}

const BOX = 'w-full rounded-sm border bg-raised px-2 text-ink';
export const look = (error: string | undefined, large: boolean | undefined) =>
  `${BOX} ${error ? 'border-brick border-2' : 'border-line'} ${large ? 'min-h-12 text-xl figures' : 'min-h-8'}`;

export function Framed({ label, error, hint, hideLabel, id, children }: Frame & { id: string; children: ReactNode }) {
  return (
    <div className="flex flex-col gap-1">
      <label htmlFor={id} className={hideLabel ? 'sr-only' : 'text-soft'}>
        {label}
      </label>
      {children}
      {error && (
        <p id={`${id}-error`} role="alert" className="max-w-prose font-medium text-brick">
          {error}
        </p>
      )}
      {!error && hint && (
        <p id={`${id}-hint`} className="text-soft">
          {hint}
        </p>
      )}
    </div>
  );
}

/** A text field with its label, and what is wrong said at the field. */
export function Field({
  label,
  error,
  hint,
  large,
  hideLabel,
  id: given,
  ...rest
}: Frame & InputHTMLAttributes<HTMLInputElement>) {
  const own = useId();
  const id = given ?? own;
  return (
    <Framed id={id} label={label} error={error} hint={hint} {...(hideLabel ? { hideLabel } : {})}>
      <input
        id={id}
        aria-invalid={error ? true : undefined}
        aria-describedby={error ? `${id}-error` : hint ? `${id}-hint` : undefined}
        className={look(error, large)}
        {...rest}
      />
    </Framed>
  );
}
