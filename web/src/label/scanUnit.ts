/**
 * The unit number in what a label's code says: the address of its measure page, or the bare number.
 *
 * @example scanUnit('http://any.example/measure/V10') = 'V10'
 */
export function scanUnit(text: string): string | undefined {
  const address = /\/measure\/([^/?#]+)/.exec(text);
  const unit = decodeURIComponent(address?.[1] ?? text)
    .trim()
    .toUpperCase();
  return /^[\p{L}\p{N} ._-]{1,20}$/u.test(unit) ? unit : undefined;
}
