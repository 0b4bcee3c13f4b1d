import { Search } from 'lucide-react';
import { useEffect, useState, useSyncExternalStore } from 'react';
import { Navigate, NavLink, Outlet, useLocation } from 'react-router';
import { type Action, mayDo } from '@mile-mark/contract';
import type { SessionState } from '@mile-mark/contract/people';
import { reach } from '../api/client.ts';
import { useChanges } from '../api/forecasts.ts';
import { useQuestions } from '../api/inspections.ts';
import { useSession } from '../api/people.ts';
import { Button } from '../ui/Button.tsx';
import { State } from '../ui/State.tsx';
import { formatDate } from '../ui/format.ts';
import { isForControl, setSingleKeys } from '../ui/typing.ts';
import { SignInAgain } from '../screens/people/sign-in/SignInAgain.tsx';
import { BarPlaces } from './BarPlaces.tsx';
import { FirstWalk, WalkOffer } from './FirstWalk.tsx';
import { FindUnit } from './FindUnit.tsx';
import { StandingUndo } from './StandingUndo.tsx';
import { ThumbNav } from './ThumbNav.tsx';
import { Help, WITHOUT_NETWORK } from './Help.tsx';
import { useOffline, useSending } from './network.ts';
import { usePageTitle } from './usePageTitle.ts';

const PLACES: { to: string; name: string; action?: Action }[] = [
  { to: '/', name: 'Ahead' },
  { to: '/this-week', name: 'This week' },
  { to: '/plan', name: 'Plan' },
  { to: '/jobs', name: 'Jobs' },
  { to: '/parts', name: 'Parts' },
  { to: '/measure', name: 'Measure', action: 'measure' },
  { to: '/questions', name: 'Questions', action: 'measure' },
  { to: '/specifications', name: 'Specifications' },
  { to: '/duty', name: 'Duty' },
  { to: '/import', name: 'Import', action: 'import' },
  { to: '/fleet', name: 'Fleet' },
  { to: '/gauges', name: 'Gauges & technicians', action: 'measure' },
  { to: '/records', name: 'Records' },
];

/** Frame of every screen after sign-in: the places, today, who is signed in, and the shortcuts. */
export function Shell() {
  const session = useSession();
  const { pathname, search } = useLocation();
  usePageTitle(pathname);
  const [helpOpen, setHelpOpen] = useState(false);
  const [finding, setFinding] = useState(false);
  const [walking, setWalking] = useState(false);
  const cut = useOffline();
  const offline = !useSyncExternalStore(reach.subscribe, reach.get) || cut;
  useEffect(() => {
    const onKey = (event: KeyboardEvent) => {
      if (isForControl(event)) return;
      if (event.key === '?') setHelpOpen(true);
      // A screen that finds units itself has the key.
      if (event.key === '/' && !document.querySelector('[role="dialog"], [data-find]')) {
        event.preventDefault();
        setFinding(true);
      }
    };
    window.addEventListener('keydown', onKey);
    return () => window.removeEventListener('keydown', onKey);
  }, []);

  if (session.isPending) return <State title="Loading" what="Asking who is signed in." quiet />;
  if (session.isLoadingError) {
    return (
      <State title="Mile Mark does not answer" what="The server may be starting, or the network is cut.">
        <Button onClick={() => void session.refetch()}>Try again</Button>
      </State>
    );
  }
  const { me, over } = session.data;
  if (!me) return <Navigate to="/sign-in" replace state={{ from: `${pathname}${search}` }} />;
  return (
    <>
      <Frame
        {...{ me, offline, helpOpen, setHelpOpen }}
        today={session.data.today}
        onFind={() => setFinding(true)}
        onWalk={() => setWalking(true)}
      />
      {walking && <FirstWalk me={me} onClose={() => setWalking(false)} />}
      {finding && <FindUnit me={me} onClose={() => setFinding(false)} />}
      {over && <SignInAgain me={me} />}
    </>
  );
}

interface FrameProps {
  me: NonNullable<SessionState['me']>;
  today: string;
  offline: boolean;
  helpOpen: boolean;
  setHelpOpen: (open: boolean) => void;
  onFind: () => void;
  onWalk: () => void;
}

function Frame({ me, today, offline, helpOpen, setHelpOpen, onFind, onWalk }: FrameProps) {
  useEffect(() => setSingleKeys(me.singleKeys), [me.singleKeys]);
  const measures = mayDo(me.role, 'measure');
  const changes = useChanges().data?.filter(({ open }) => open).length ?? 0;
  const questions = (useQuestions(measures).data?.length ?? 0) + (measures ? changes : 0);
  const waiting = useSending(me.id);
  const places = PLACES.filter(({ action }) => !action || mayDo(me.role, action));
  return (
    <div className="flex h-full flex-col">
      <a href="#page" className="sr-only focus:not-sr-only focus:absolute focus:z-40 focus:bg-raised focus:p-2">
        Skip to the page
      </a>
      <header className="relative flex h-11 shrink-0 items-center gap-3 overflow-x-auto bg-[#2b2d2f] px-3 whitespace-nowrap print:hidden sm:gap-5 sm:px-4 text-[#f1efe9]">
        <span className="flex shrink-0 items-center gap-2 font-semibold tracking-wide">
          <img src="/mark.svg" alt="" className="h-6 w-6" />
          <span className="hidden min-[1400px]:inline">Mile Mark</span>
        </span>
        <BarPlaces places={places} questions={questions} />
        {offline && (
          <span role="status" className="ml-auto shrink-0 max-sm:order-first max-sm:ml-0">
            <button
              type="button"
              onClick={() => setHelpOpen(true)}
              className="rounded-sm bg-[#f1efe9] px-2 py-0.5 font-semibold text-[#26282a] focus-visible:outline-white"
            >
              No network<span className="sr-only">. {WITHOUT_NETWORK}</span>
            </button>
          </span>
        )}
        <div className={`ml-auto flex min-w-0 items-center gap-3 min-[1400px]:gap-5 ${offline ? 'sm:ml-0' : ''}`}>
          <StandingUndo />
          {waiting > 0 && (
            <NavLink
              to="/measure"
              role="status"
              className="figures rounded-sm bg-[#f1efe9] px-2 font-semibold text-[#26282a]"
            >
              {waiting} to send
            </NavLink>
          )}
          <button
            type="button"
            onClick={onFind}
            className="flex items-center gap-1.5 rounded px-1 text-[#d5d3cc] hover:underline focus-visible:outline-white"
          >
            <Search aria-hidden size={16} />
            <span className="max-[1400px]:sr-only">Find</span> <kbd className="figures max-sm:hidden">/</kbd>
          </button>
          <span className="hidden text-[#d5d3cc] min-[1440px]:inline">{formatDate(today)}</span>
          <button
            className="min-w-24 truncate rounded px-1 text-[#d5d3cc] underline-offset-2 hover:underline focus-visible:outline-white"
            onClick={() => setHelpOpen(true)}
          >
            {me.name}
            <span className="max-[1440px]:sr-only"> · {me.role}</span> · <kbd className="figures">?</kbd>
          </button>
        </div>
      </header>
      <WalkOffer me={me} onWalk={onWalk} />
      <main id="page" tabIndex={-1} className="min-h-0 flex-1 outline-none">
        <Outlet />
      </main>
      <ThumbNav role={me.role} places={places} questions={questions} />
      <Help open={helpOpen} onClose={() => setHelpOpen(false)} {...{ me, offline, onWalk }} />
    </div>
  );
}
