import { defineEntity, p } from '@mikro-orm/core';

/** A job as it runs: how far it is, when it last gave a sign of life, whether somebody asked for it to stop. */
export const JobRunEntity = defineEntity({
  name: 'JobRun',
  tableName: 'job_run',
  properties: {
    id: p.uuid().primary(),
    name: p.text(),
    /** running, done, failed, cancelled, or lost: its process died. */
    state: p.text(),
    /** The queue's own ids of what it does. */
    queueIds: p.json<string[]>().default('[]'),
    done: p.integer().default(0),
    total: p.integer().nullable(),
    startedAt: p.datetime().onCreate(() => new Date()),
    heartbeatAt: p.datetime().onCreate(() => new Date()),
    endedAt: p.datetime().nullable(),
    cancelAskedAt: p.datetime().nullable(),
    failure: p.text().nullable(),
  },
});
