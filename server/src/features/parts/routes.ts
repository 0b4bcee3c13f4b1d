import { Supplier } from '@mile-mark/contract/parts';
import type { Express } from 'express';
import { rowsOf } from '../../platform/db/rows.ts';
import type { AppContext } from '../../platform/http/context.ts';
import { mount } from '../../platform/http/mount.ts';
import { listParts } from './catalogue.ts';
import { addMovement } from './commands/movements.ts';
import { addReceipt, approveOrder, callOffOrder, changeOrder } from './commands/orders.ts';
import { addPart, changePart } from './commands/parts.ts';
import { addSupplier, changeSupplier } from './commands/suppliers.ts';
import { addKitChange } from './commands/kits.ts';
import { changePartsTerms } from './commands/terms.ts';
import { addPick } from './commands/pick.ts';
import { axleKits } from './queries/axleKits.ts';
import { modelKits } from './queries/modelKits.ts';
import { partsTerms } from './queries/terms.ts';
import { demandFor, partRecords } from './queries/demand.ts';
import { jobKits, kitWeeks, partsDay } from './queries/jobKits.ts';
import { listOrders } from './queries/orders.ts';
import { listStock } from './stock.ts';

const SUPPLIERS = `select id, name, currency, lead_days as "leadDays", order_cost_minor as "orderCostMinor", freight_minor as "freightMinor",
  freight_free_minor as "freightFreeMinor" from supplier order by name`;

export function mountParts(app: Express, context: AppContext): void {
  const today = () => context.today();
  mount(app, context, 'parts', async ({ em }) => ({ items: await listParts(em) }));
  mount(app, context, 'addPart', async ({ run, body }) => run(addPart, body));
  mount(app, context, 'changePart', async ({ run, params, body }) => run(changePart, { ...body, partId: params.id }));
  mount(app, context, 'suppliers', async ({ em }) => ({ items: await rowsOf(em, Supplier, SUPPLIERS) }));
  mount(app, context, 'addSupplier', async ({ run, body }) => run(addSupplier, body));
  mount(app, context, 'changeSupplier', async ({ run, params, body }) =>
    run(changeSupplier, { ...body, supplierId: params.id }),
  );
  mount(app, context, 'stock', async ({ em, query }) => ({ items: await listStock(em, query.depot) }));
  mount(app, context, 'addMovement', async ({ run, body }) => run(addMovement, body));
  mount(app, context, 'addPick', async ({ run, body }) => run(addPick, body));
  mount(app, context, 'partsDay', async ({ em, query }) => partsDay(em, today(), query.depot));
  mount(app, context, 'jobKits', async ({ em, query }) => ({ items: await jobKits(em, today(), query.jobId) }));
  mount(app, context, 'kitWeeks', async ({ em }) => ({ items: await kitWeeks(em, today()) }));
  mount(app, context, 'axleKits', async ({ em, query }) => ({ items: await axleKits(em, query.unit, today()) }));
  mount(app, context, 'modelKits', async ({ em, query }) => modelKits(em, query.model));
  mount(app, context, 'addKitChange', async ({ run, body }) => run(addKitChange, body));
  mount(app, context, 'partsTerms', async ({ em }) => partsTerms(em, today()));
  mount(app, context, 'changePartsTerms', async ({ run, body }) => run(changePartsTerms, body));
  mount(app, context, 'demand', async ({ em, query }) => demandFor(em, query));
  mount(app, context, 'orders', async ({ em, query }) => ({ items: await listOrders(em, query, today()) }));
  mount(app, context, 'changeOrder', async ({ run, params, body }) =>
    run(changeOrder, { ...body, orderId: params.id }),
  );
  mount(app, context, 'approveOrder', async ({ run, params, body }) =>
    run(approveOrder, { ...body, orderId: params.id }),
  );
  mount(app, context, 'callOffOrder', async ({ run, params, body }) =>
    run(callOffOrder, { ...body, orderId: params.id }),
  );
  mount(app, context, 'addReceipt', async ({ run, params, body }) => run(addReceipt, { ...body, orderId: params.id }));
  mount(app, context, 'partRecords', async ({ em }) => ({ items: await partRecords(em) }));
}
