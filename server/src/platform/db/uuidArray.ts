/** A list of ids as one parameter of type uuid[]: `any(?::uuid[])`. (Lists are spread by the driver otherwise.) */
export function uuidArray(ids: readonly string[]): string {
  return `{${ids.join(',')}}`;
}
