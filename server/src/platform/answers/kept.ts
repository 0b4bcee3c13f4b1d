import type { Call } from '../http/context.ts';
import type { Prepared } from '../http/prepared.ts';
import type { RestsOn } from './answers.ts';

/**
 * A handler whose answer is made again only when what it rests on has changed.
 *
 * @param name of the route
 * @param as what besides the route and the day tells the answer from others: its parameters, and for whom it is
 */
export function kept<Body, Params, Query, Answer>(
  name: string,
  {
    as,
    rests,
  }: {
    as: (call: Call<Body, Params, Query>) => readonly string[];
    rests: (params: Params) => RestsOn;
  },
  make: (call: Call<Body, Params, Query>) => Promise<Answer>,
): KeptHandler<Body, Params, Query> {
  const handler = async (call: Call<Body, Params, Query>) =>
    call.context.answers.of(call.em, {
      key: JSON.stringify([name, call.context.today(), ...as(call)]),
      rests: rests(call.params),
      stands: call.stands,
      make: () => make(call),
    });
  return Object.assign(handler, { rests });
}

/** A handler of which it is known what its answer rests on before it is known who asks. */
export interface KeptHandler<Body, Params, Query> {
  (call: Call<Body, Params, Query>): Promise<Prepared>;
  rests: (params: Params) => RestsOn;
}
