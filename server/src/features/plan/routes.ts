import type { Express } from 'express';
import { writePdf } from '../../platform/documents/pdf.ts';
import type { AppContext } from '../../platform/http/context.ts';
import { mount } from '../../platform/http/mount.ts';
import { addAbsence, readCalendar, withdrawAbsence } from './commands/absences.ts';
import { addCalendarLink, withdrawCalendarLink } from './commands/calendars.ts';
import { lockVisit, movePlan, tryMove, undoMove } from './commands/moves.ts';
import { addPlan, cancelPlan } from './commands/plans.ts';
import { publishPlan } from './commands/publish.ts';
import { changePlanTerms, changeShop } from './commands/shop.ts';
import { calendarOf, listCalendarLinks } from './queries/calendars.ts';
import { dayBoard } from './queries/dayBoard.ts';
import { planHolds } from './queries/holds.ts';
import { lookBy } from './queries/looks.ts';
import { listPlans, plannedVisits, planView } from './queries/plans.ts';
import { shopView } from './queries/shop.ts';
import { weekOfPlan } from './queries/weekPdf.ts';

export function mountPlan(app: Express, context: AppContext): void {
  const today = () => context.today();
  mount(app, context, 'shop', async ({ em }) => shopView(em, today()));
  mount(app, context, 'changeShop', async ({ run, params, body }) => run(changeShop, { ...body, depot: params.depot }));
  mount(app, context, 'changePlanTerms', async ({ run, body }) => run(changePlanTerms, body));
  mount(app, context, 'readCalendar', async ({ run, body }) => run(readCalendar, body));
  mount(app, context, 'addAbsence', async ({ run, body }) => run(addAbsence, body));
  mount(app, context, 'withdrawAbsence', async ({ run, params }) => run(withdrawAbsence, params));
  mount(app, context, 'plans', async ({ em }) => ({ items: await listPlans(em) }));
  mount(app, context, 'addPlan', async ({ run, body }) => run(addPlan, body));
  mount(app, context, 'tryMove', async ({ em, body }) => tryMove(em, body));
  mount(app, context, 'plan', async ({ em, params }) => planView(em, params.id, today()));
  mount(app, context, 'planHolds', async ({ em, params }) => planHolds(em, params.id, today()));
  mount(app, context, 'movePlan', async ({ run, params, body }) => run(movePlan, { ...body, planId: params.id }));
  mount(app, context, 'lockVisit', async ({ run, params, body }) => run(lockVisit, { ...body, planId: params.id }));
  mount(app, context, 'undoMove', async ({ run, params, body }) => run(undoMove, { ...body, planId: params.id }));
  mount(app, context, 'cancelPlan', async ({ run, params, body }) => run(cancelPlan, { ...body, planId: params.id }));
  mount(app, context, 'publishPlan', async ({ run, params, body }) => run(publishPlan, { ...body, planId: params.id }));
  mount(app, context, 'planPdf', async ({ em, params, query }, response) => {
    const plan = await planView(em, params.id, today());
    response.setHeader('Content-Disposition', `inline; filename="plan-${query.week}.pdf"`);
    return writePdf(weekOfPlan(plan, query.week, query.depot));
  });
  mount(app, context, 'plannedVisits', async ({ em }) => ({ items: await plannedVisits(em, today()) }));
  mount(app, context, 'dayBoard', async ({ em, query }) => dayBoard(em, query, today()));
  mount(app, context, 'lookBy', async ({ em }) => ({ items: await lookBy(em, today()) }));
  mount(app, context, 'calendarLinks', async ({ em }) => ({ items: await listCalendarLinks(em) }));
  mount(app, context, 'addCalendarLink', async ({ run, body }) => run(addCalendarLink, body));
  mount(app, context, 'withdrawCalendarLink', async ({ run, params }) => run(withdrawCalendarLink, params));
  mount(app, context, 'calendar', async ({ em, params }) => calendarOf(em, params.token, today()));
}
