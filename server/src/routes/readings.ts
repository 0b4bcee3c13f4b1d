import type { Express } from 'express';
import type { AppContext } from '../http/context.ts';
import { mount } from '../http/mount.ts';
import { writeCsv } from '../interchange/csv.ts';
import { readingRows } from '../services/fleet.ts';
import { addService, correctReading, saveInspection } from '../services/readings.ts';

export function mountReadings(app: Express, context: AppContext): void {
  mount(app, context, 'addReadings', async ({ em, actor, body }) => {
    const { reply, vehicleId, replayed } = await saveInspection(em, actor, body, context.today());
    if (!replayed) {
      await context.queue.vehicles([vehicleId]);
      await context.queue.handsSoon();
    }
    return reply;
  });
  mount(app, context, 'correctReading', async ({ em, actor, params, body }) => {
    const { id, vehicleId } = await correctReading(em, actor, params.id, body);
    await context.queue.vehicles([vehicleId]);
    return { id };
  });
  mount(app, context, 'addService', async ({ em, actor, body }) => {
    const { id, vehicleId } = await addService(em, actor, body, context.today());
    await context.queue.vehicles([vehicleId]);
    return { id };
  });
  mount(app, context, 'readingsCsv', async ({ em }, response) => {
    const rows = await readingRows(em);
    response.setHeader('Content-Disposition', 'attachment; filename="readings.csv"');
    const header = [
      'id',
      'unit',
      'date',
      'odometer_mi',
      'axle',
      'side',
      'pad',
      'thickness_mm',
      'typed',
      'technician',
      'gauge',
      'entered_by',
      'entered_at',
      'supersedes',
      'superseded_by',
      'reason',
    ];
    return writeCsv(
      header,
      rows.map((row) => header.map((name) => row[name] ?? '')),
    );
  });
}
