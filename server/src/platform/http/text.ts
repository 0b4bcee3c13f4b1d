import type { FieldError } from '../errors.ts';
import { ApiError } from '../errors.ts';

// eslint-disable-next-line no-control-regex -- these are what is looked for
const CONTROL = /[\u0000-\u0008\u000b\u000c\u000e-\u001f\u007f]/;
/** Half of a character that is written as two: with the other half it is none. */
const HALF = /\p{Surrogate}/u;
/** Fields that hold a whole file: what its cells may hold is judged where they are read. */
const FILES: readonly string[] = ['text', 'contentBase64', 'jpegBase64'];
/** A value within more values than this is none that any route asks for. */
const DEEPEST = 40;

/**
 * Refuses text that no person types and no database keeps: control characters but tab and line breaks, and halves of
 * characters. Every field with such text is named.
 *
 * @throws ApiError `invalid`
 */
export function refuseUnreadable(...parts: unknown[]): void {
  const errors: FieldError[] = [];
  for (const part of parts) look(part, [], errors);
  if (errors.length > 0) throw new ApiError('invalid', errors[0]?.message, errors);
}

/** Whether a value holds no such text. */
export function readable(value: unknown): boolean {
  const errors: FieldError[] = [];
  look(value, [], errors);
  return errors.length === 0;
}

function look(value: unknown, path: readonly string[], errors: FieldError[]): void {
  if (typeof value === 'string') {
    const whole = FILES.includes(path.at(-1) ?? '');
    const message = faultOf(value, whole);
    if (message) errors.push({ field: path.join('.') || 'body', message });
    return;
  }
  if (typeof value !== 'object' || value === null) return;
  if (path.length > DEEPEST) {
    errors.push({
      field: path[0] ?? 'body',
      message: 'Values lie too deep in each other here; a plain value is accepted.',
    });
    return;
  }
  for (const [key, one] of Object.entries(value)) {
    if (faultOf(key, false)) errors.push({ field: path.join('.') || 'body', message: `A name in it ${UNREADABLE}` });
    look(one, [...path, key], errors);
  }
}

const UNREADABLE =
  'holds characters that can’t be read (control characters, or half of one); letters, figures and signs are accepted.';

function faultOf(text: string, file: boolean): string | undefined {
  if (HALF.test(text) || (file ? text.includes('\u0000') : CONTROL.test(text))) return `This ${UNREADABLE}`;
  return undefined;
}
