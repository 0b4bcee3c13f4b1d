import { createBrowserRouter } from 'react-router';
import { Broken } from './Broken.tsx';
import { Shell } from './Shell.tsx';

/** One chunk a screen. */
export const router = createBrowserRouter([
  {
    path: '/sign-in',
    lazy: async () => ({ Component: (await import('../screens/people/sign-in/SignIn.tsx')).SignIn }),
    errorElement: <Broken />,
  },
  {
    path: '/reset',
    lazy: async () => ({ Component: (await import('../screens/people/sign-in/ResetPassword.tsx')).ResetPassword }),
    errorElement: <Broken />,
  },
  {
    path: '/',
    Component: Shell,
    errorElement: <Broken />,
    children: [
      { index: true, lazy: async () => ({ Component: (await import('../screens/forecasts/ahead/Ahead.tsx')).Ahead }) },
      {
        path: 'vehicles/:unit',
        lazy: async () => ({ Component: (await import('../screens/forecasts/vehicle/Vehicle.tsx')).Vehicle }),
      },
      {
        path: 'measure',
        lazy: async () => ({ Component: (await import('../screens/inspections/measure/Measure.tsx')).Measure }),
      },
      {
        path: 'measure/:unit',
        lazy: async () => ({ Component: (await import('../screens/inspections/measure/Measure.tsx')).Measure }),
      },
      {
        path: 'measure/:unit/sheet',
        lazy: async () => ({ Component: (await import('../screens/inspections/measure/Measure.tsx')).Measure }),
      },
      {
        path: 'specifications',
        lazy: async () => ({
          Component: (await import('../screens/specifications/Specifications.tsx')).Specifications,
        }),
      },
      { path: 'duty', lazy: async () => ({ Component: (await import('../screens/register/duty/Duty.tsx')).Duty }) },
      {
        path: 'vehicles/:unit/why/:axle',
        lazy: async () => ({ Component: (await import('../screens/forecasts/why/WhyPage.tsx')).WhyPage }),
      },
      {
        path: 'this-week',
        lazy: async () => ({ Component: (await import('../screens/jobs/ThisWeek.tsx')).ThisWeek }),
      },
      { path: 'jobs', lazy: async () => ({ Component: (await import('../screens/jobs/Jobs.tsx')).Jobs }) },
      {
        path: 'jobs/learned',
        lazy: async () => ({ Component: (await import('../screens/jobs/Learned.tsx')).Learned }),
      },
      { path: 'jobs/:id', lazy: async () => ({ Component: (await import('../screens/jobs/JobPage.tsx')).JobPage }) },
      {
        path: 'jobs/:id/card',
        lazy: async () => ({ Component: (await import('../screens/jobs/card/Card.tsx')).Card }),
      },
      { path: 'plan', lazy: async () => ({ Component: (await import('../screens/plan/Plan.tsx')).Plan }) },
      { path: 'parts', lazy: async () => ({ Component: (await import('../screens/parts/Parts.tsx')).Parts }) },
      { path: 'shop-policy', lazy: async () => ({ Component: (await import('../screens/jobs/Policy.tsx')).Policy }) },
      {
        path: 'records',
        lazy: async () => ({ Component: (await import('../screens/forecasts/records/Records.tsx')).Records }),
      },
      {
        path: 'labels',
        lazy: async () => ({ Component: (await import('../screens/register/labels/Labels.tsx')).Labels }),
      },
      {
        path: 'questions',
        lazy: async () => ({ Component: (await import('../screens/inspections/questions/Questions.tsx')).Questions }),
      },
      {
        path: 'gauges/studies/:id',
        lazy: async () => ({ Component: (await import('../screens/gauges/StudyPage.tsx')).StudyPage }),
      },
      { path: 'import', lazy: async () => ({ Component: (await import('../screens/imports/Import.tsx')).Import }) },
      { path: 'gauges', lazy: async () => ({ Component: (await import('../screens/gauges/Gauges.tsx')).Gauges }) },
      {
        path: 'fleet',
        lazy: async () => ({ Component: (await import('../screens/register/fleet/Fleet.tsx')).Fleet }),
        children: [
          {
            index: true,
            lazy: async () => ({ Component: (await import('../screens/register/fleet/Vehicles.tsx')).Vehicles }),
          },
          {
            path: 'models',
            lazy: async () => ({ Component: (await import('../screens/register/fleet/Models.tsx')).Models }),
          },
          {
            path: 'depots',
            lazy: async () => ({ Component: (await import('../screens/register/fleet/Depots.tsx')).Depots }),
          },
          {
            path: 'people',
            lazy: async () => ({ Component: (await import('../screens/gauges/People.tsx')).People }),
          },
          {
            path: 'gauges',
            lazy: async () => ({ Component: (await import('../screens/gauges/GaugesOnRecord.tsx')).GaugesOnRecord }),
          },
          {
            path: 'trail',
            lazy: async () => ({ Component: (await import('../screens/archive/WhoDidWhat.tsx')).WhoDidWhat }),
          },
          {
            path: 'archive',
            lazy: async () => ({ Component: (await import('../screens/archive/Archive.tsx')).Archive }),
          },
        ],
      },
      { path: '*', lazy: async () => ({ Component: (await import('./NotFound.tsx')).NotFound }) },
    ],
  },
]);
