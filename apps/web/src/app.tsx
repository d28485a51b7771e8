import { ROUTES } from '@ypsigraph/contract/routes';
import { Moon, Sun } from 'lucide-react';
import { Tooltip } from 'radix-ui';
import { lazy, type ReactNode, Suspense } from 'react';
import { BrowserRouter, Navigate, NavLink, Route, Routes, useLocation } from 'react-router';
import { Toaster } from 'sonner';
import { SWRConfig } from 'swr';
import type { Person } from '@ypsigraph/contract/people';
import { speakAs, call } from './api/client.ts';
import { useSession } from './api/data.ts';
import { Button } from './kit/button.tsx';
import { Empty, Failed, Waiting } from './kit/states.tsx';
import { setTheme, useTheme } from './kit/theme.ts';
import { Wordmark } from './kit/wordmark.tsx';
import { AccountPage } from './pages/account-page.tsx';
import { CohortPage } from './pages/cohort-page.tsx';
import { DocketPage } from './pages/docket-page.tsx';
import { HandInPage } from './pages/hand-in-page.tsx';
import { ExercisePage } from './pages/exercise-page.tsx';
import { ForgottenPage } from './pages/forgotten-page.tsx';
import { InvitationPage } from './pages/invitation-page.tsx';
import { LedgerPage } from './pages/ledger-page.tsx';
import { OutboxPage } from './pages/outbox-page.tsx';
import { RecordPage } from './pages/record-page.tsx';
import { SignInPage } from './pages/sign-in-page.tsx';
import { WorksheetPage } from './pages/worksheet-page.tsx';

const BriefPage = lazy(async () => ({ default: (await import('./pages/briefs/brief-page.tsx')).BriefPage }));
const ExemplarsPage = lazy(async () => ({
  default: (await import('./pages/exemplars/exemplars-page.tsx')).ExemplarsPage,
}));
const BriefsPage = lazy(async () => ({ default: (await import('./pages/briefs/briefs-page.tsx')).BriefsPage }));
const FolioPage = lazy(async () => ({ default: (await import('./pages/folio/folio-page.tsx')).FolioPage }));
const TallyPage = lazy(async () => ({ default: (await import('./pages/tally/tally-page.tsx')).TallyPage }));
const ShownExemplarPage = lazy(async () => ({
  default: (await import('./pages/exemplars/shown-exemplar-page.tsx')).ShownExemplarPage,
}));
const ShowingPage = lazy(async () => ({ default: (await import('./pages/showings-page.tsx')).ShowingPage }));
const ShowingsPage = lazy(async () => ({ default: (await import('./pages/showings-page.tsx')).ShowingsPage }));
const SheetPage = lazy(async () => ({ default: (await import('./pages/sheet/sheet-page.tsx')).SheetPage }));
const DeskPage = lazy(async () => ({ default: (await import('./pages/desk-page.tsx')).DeskPage }));

export function App() {
  return (
    <SWRConfig value={{ keepPreviousData: true, errorRetryInterval: 2_000 }}>
      <Tooltip.Provider>
        {/* As a transition a change of address would wait for as long as a shot plays on a slow machine. */}
        <BrowserRouter useTransitions={false}>
          <Pages />
        </BrowserRouter>
        <Toaster position="bottom-left" toastOptions={{ className: 'font-sans' }} />
      </Tooltip.Provider>
    </SWRConfig>
  );
}

function Pages() {
  const { data: session, error, mutate: again } = useSession();
  if (error && !session) return <Failed error={error} again={() => void again()} />;
  if (!session) return <Waiting />;
  speakAs(session.person?.id);
  if (!session.person) {
    return (
      <Routes>
        <Route path="/invitation/:token" element={<InvitationPage />} />
        {session.mail && <Route path="/forgotten" element={<ForgottenPage />} />}
        <Route path="*" element={<SignInPage {...session} />} />
      </Routes>
    );
  }
  const { person } = session;
  const staff = person.role !== 'student';
  return (
    // Another person's page is another page: nothing of the one before stays in it.
    <Shell key={person.id} person={person}>
      <Suspense fallback={<Waiting />}>
        <Routes>
          <Route path="/desk/:id" element={<DeskPage person={person} />} />
          {staff && <Route path="/docket" element={<DocketPage person={person} />} />}
          {staff && <Route path="/tally/:cohort?" element={<TallyPage person={person} />} />}
          {staff && <Route path="/briefs" element={<BriefsPage person={person} />} />}
          {staff && <Route path="/briefs/new" element={<BriefPage person={person} />} />}
          {staff && <Route path="/briefs/:id" element={<BriefPage person={person} />} />}
          {staff && <Route path="/exemplars/:name?" element={<ExemplarsPage person={person} />} />}
          {staff && <Route path="/cohort/:cohort?" element={<CohortPage person={person} />} />}
          {staff && <Route path="/outbox" element={<OutboxPage />} />}
          {person.role === 'instructor' && <Route path="/record" element={<RecordPage />} />}
          <Route path={staff ? '/folio/:id' : '/folio'} element={<FolioPage person={person} />} />
          <Route path="/exercise/:id" element={<ExercisePage person={person} />} />
          <Route path="/shown" element={<ShowingsPage />} />
          <Route path="/shown/:id" element={<ShowingPage />} />
          <Route path="/shown/exemplar/:id" element={<ShownExemplarPage />} />
          <Route path="/sheet/:id" element={<SheetPage />} />
          {staff && <Route path="/ledger/:cohort?" element={<LedgerPage person={person} />} />}
          {!staff && <Route path="/worksheet" element={<WorksheetPage />} />}
          <Route path="/hand-in/:id" element={<HandInPage person={person} />} />
          <Route path="/account" element={<AccountPage person={person} />} />
          <Route
            path="/invitation/:token"
            element={<Empty title="You are signed in">Sign out to take an invitation for somebody else.</Empty>}
          />
          <Route path="/" element={<Navigate replace to={staff ? '/docket' : '/worksheet'} />} />
          <Route path="*" element={<Empty title="There is no such page">Choose one above.</Empty>} />
        </Routes>
      </Suspense>
    </Shell>
  );
}

/** The head of every page, and the page below it. */
function Shell({ person, children }: { person: Person; children: ReactNode }) {
  const desk = useLocation().pathname.startsWith('/desk/');
  const pages =
    person.role === 'student'
      ? [
          ['/worksheet', 'Worksheet'],
          ['/folio', 'Folio'],
          ['/shown', 'Shown'],
        ]
      : [
          ['/docket', 'Docket'],
          ['/ledger', 'Ledger'],
          ['/tally', 'Tally'],
          ['/briefs', 'Briefs'],
          ['/exemplars', 'Exemplars'],
          ['/cohort', 'Cohort'],
          ['/shown', 'Shown'],
          ['/outbox', 'Outbox'],
        ];
  return (
    <div className="flex h-full flex-col">
      <div className="flex h-10 shrink-0 items-center gap-2 border-b border-edge px-3 sm:gap-4">
        <Wordmark />
        <nav aria-label="Pages" className="flex min-w-0 gap-1 overflow-x-auto">
          {pages.map(([to, text]) => (
            <NavLink
              key={to}
              to={to!}
              className={({ isActive }) =>
                `rounded-md px-1.5 py-0.5 text-sm sm:px-2 ${isActive ? 'bg-wash font-semibold' : 'hover:bg-wash'}`
              }
            >
              {text}
            </NavLink>
          ))}
        </nav>
        <NavLink
          to="/account"
          className="ml-auto hidden truncate rounded-md px-2 py-0.5 text-sm text-graphite hover:bg-wash sm:inline"
        >
          {person.name}, {person.role}
        </NavLink>
        <span className="ml-auto sm:hidden" />
        <ThemeButton />
        <Button look="quiet" onClick={() => void signOut()}>
          Sign out
        </Button>
      </div>
      <div className={`min-h-0 flex-1 ${desk ? '' : 'overflow-y-auto'}`}>{children}</div>
    </div>
  );
}

async function signOut(): Promise<void> {
  await call(ROUTES.signOut, {});
  window.location.assign('/');
}

function ThemeButton() {
  const dim = useTheme() === 'dim';
  return (
    <Button
      look="quiet"
      aria-label={dim ? 'Light theme' : 'Dim theme, for dark rooms'}
      onClick={() => setTheme(dim ? 'light' : 'dim')}
    >
      {dim ? <Sun size={15} /> : <Moon size={15} />}
    </Button>
  );
}
