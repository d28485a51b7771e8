import type { DocketSearch } from './docket-search.ts';
import { ROUTES } from '@ypsigraph/contract/routes';
import { ChevronLeft, ChevronRight, ClipboardList, Keyboard, Settings2 } from 'lucide-react';
import { useEffect, useState } from 'react';
import { Link, useLocation, useNavigate, useParams, useSearchParams } from 'react-router';
import { toast } from 'sonner';
import type { Revision, Shot } from '@ypsigraph/contract/shots';
import type { Person } from '@ypsigraph/contract/people';
import { attempt } from '../api/attempt.ts';
import { RequestError, call } from '../api/client.ts';
import {
  preloadShot,
  refreshShot,
  useDocket,
  useDemonstrations,
  useShotNews,
  useReadingProgress,
  useShot,
} from '../api/data.ts';
import { Desk } from '../desk/desk.tsx';
import { SendBackDialog, SignOffDialog } from '../desk/judge-dialogs.tsx';
import { ShotDialog } from '../desk/shot-dialog.tsx';
import { Button } from '../kit/button.tsx';
import { Hint } from '../kit/hint.tsx';
import { Select } from '../kit/select.tsx';
import { Failed, Waiting } from '../kit/states.tsx';
import { PracticeNotice } from './first-steps.tsx';

/** One shot under review. The address says which revision is on the desk and which beside it. */
export function DeskPage({ person }: { person: Person }) {
  const { id } = useParams();
  const [search, setSearch] = useSearchParams();
  const { data: shot, error, mutate } = useShot(id);
  const [takenFor, setTakenFor] = useState(false);
  const [help, setHelp] = useState(false);
  const [judging, setJudging] = useState<'send back' | 'sign off'>();
  const navigate = useNavigate();
  const { state } = useLocation() as { state: { docket?: DocketSearch } | null };
  const docket = (useDocket(person.role !== 'student', state?.docket ?? {}).data ?? []).flatMap(
    ({ entries }) => entries,
  );
  const [about, setAbout] = useState(false);

  const standing = shot?.revisions.filter((r) => r.state !== 'withdrawn') ?? [];
  const newest = standing.at(-1) ?? shot?.revisions.at(-1);
  const pick = (name: string): Revision | undefined =>
    shot?.revisions.find((r) => String(r.number) === search.get(name));
  const revision = pick('r') ?? newest;
  const beside = pick('beside');
  const third = beside && pick('third');
  const { data: made = [] } = useDemonstrations(
    shot && !shot.demonstration ? shot.assignment : undefined,
    // What was made for this one alone is between its student and those who teach.
    person.role !== 'student' || person.id === shot?.student.id ? shot?.id : undefined,
  );
  const { data: shownBy } = useShot(beside ? undefined : (search.get('shown') ?? undefined));
  useReadingProgress(shot, revision?.id);
  useTakeOnDesk(person, shot?.demonstration ? undefined : revision);
  useShotNews(id);

  if (error && !shot) return <Failed error={error} again={() => void mutate()} />;
  if (!shot || !revision) return <Waiting />;

  const at = docket.findIndex((entry) => entry.shot === shot.id);
  const show = (number: number): void => setSearch(number === newest?.number ? {} : { r: String(number) }, { state });
  const earlier =
    standing.filter((r) => r.number < revision.number).at(-1) ?? standing.find((r) => r.number !== revision.number);
  const compare = (): void => {
    if (beside || shownBy) setSearch({ r: String(revision.number) }, { state });
    else if (earlier) setSearch({ r: String(revision.number), beside: String(earlier.number) }, { state });
    else toast('There is only one revision so far.');
  };
  const next = (): void => {
    setJudging(undefined);
    const rest = docket.filter((entry) => entry.shot !== shot.id);
    void navigate(rest[0] ? `/desk/${rest[Math.max(0, Math.min(at, rest.length - 1))]!.shot}` : '/docket', { state });
  };
  // What a teacher has made waits for nobody.
  const waits = !shot.demonstration && (revision.state === 'handed in' || revision.state === 'on the desk');

  return (
    <div className="flex h-full min-h-0 flex-col">
      <header className="flex flex-wrap items-center gap-2 border-b border-edge-strong bg-paper px-2 py-1.5">
        {person.role !== 'student' && at >= 0 && (
          <DocketPlace at={at} docket={docket.map((entry) => entry.shot)} state={state} />
        )}
        <h1 className="truncate text-lg">{shot.brief.title}</h1>
        <span className="truncate text-graphite">
          {shot.student.name}
          <span className="max-[1100px]:hidden">, {shot.cohort.name}</span>
        </span>
        <Revisions shot={shot} current={revision} onShow={show} />
        <span className="text-sm text-graphite">
          {revision.stage}, {revision.state}
        </span>
        <span className="ml-auto" />
        <Hint text="Two revisions side by side" shortcut="c">
          <Button look="quiet" on={beside !== undefined} disabled={!earlier} onClick={compare}>
            Compare
          </Button>
        </Hint>
        {!beside && (made.length > 0 || (person.role !== 'student' && !shot.demonstration)) && (
          <Select
            label="Shown by those who teach"
            className="w-36 text-xs max-[1100px]:w-24"
            value={shownBy?.id ?? ''}
            onChange={(own) => {
              if (own === SHOW) void navigate(`/hand-in/${shot.assignment}?beside=${shot.id}`);
              else setSearch({ r: String(revision.number), ...(own && { shown: own }) }, { state });
            }}
            options={[
              { value: '', text: 'shown how: off' },
              ...made.map(({ shot: own, by, alone }) => ({
                value: own,
                text: `beside: ${by}${alone ? ', for this shot' : ''}`,
              })),
              ...(person.role === 'student' ? [] : [{ value: SHOW, text: 'show how, for this shot …' }]),
            ]}
          />
        )}
        {beside && standing.length > 2 && (
          <Select
            label="A third revision"
            className="text-xs max-[1100px]:w-20"
            value={third ? String(third.number) : ''}
            onChange={(number) =>
              setSearch(
                { r: String(revision.number), beside: String(beside.number), ...(number && { third: number }) },
                { state },
              )
            }
            options={[
              { value: '', text: 'and no third' },
              ...standing
                .filter(({ id: own }) => own !== revision.id && own !== beside.id)
                .map(({ number }) => ({ value: String(number), text: `and R${number}` })),
            ]}
          />
        )}
        <Hint text="Grades, showing, and the sheet to print">
          <Button look="quiet" aria-label="About this shot" onClick={() => setAbout(true)}>
            <ClipboardList size={15} />
          </Button>
        </Hint>
        <Hint text="How the file was read">
          <Button look="quiet" aria-label="How the file was read" onClick={() => setTakenFor(true)}>
            <Settings2 size={15} />
          </Button>
        </Hint>
        <Hint text="Keys" shortcut="?">
          <Button look="quiet" aria-label="Keys" onClick={() => setHelp(true)}>
            <Keyboard size={15} />
          </Button>
        </Hint>
        {person.role !== 'student' && waits && (
          <>
            <Button look="instructor" onClick={() => setJudging('send back')}>
              Send back
            </Button>
            {person.role === 'instructor' && <Button onClick={() => setJudging('sign off')}>Sign off</Button>}
          </>
        )}
        {person.id === shot.student.id && <OwnActions shot={shot} newest={newest} />}
      </header>
      {person.role === 'instructor' && <PracticeNotice shot={shot.id} />}
      <Desk
        key={shot.id}
        shot={shot}
        revision={revision}
        beside={beside}
        third={third}
        shownBy={shownBy}
        role={person.role}
        onCompare={compare}
        onSendBack={() => person.role !== 'student' && waits && setJudging('send back')}
        takenFor={takenFor}
        onTakenFor={setTakenFor}
        help={help}
        onHelp={setHelp}
      />
      {about && <ShotDialog shot={shot} revision={revision} person={person} onOpenChange={setAbout} />}
      {waits && (
        <>
          <SendBackDialog
            shot={shot}
            revision={revision}
            open={judging === 'send back'}
            onOpenChange={(open) => setJudging(open ? 'send back' : undefined)}
            onDone={next}
          />
          <SignOffDialog
            shot={shot}
            revision={revision}
            open={judging === 'sign off'}
            onOpenChange={(open) => setJudging(open ? 'sign off' : undefined)}
            onDone={next}
          />
        </>
      )}
    </div>
  );
}

/** The choice that leads to handing something in for this shot alone. */
const SHOW = 'show';

/** A revision that its reviewer opens is on the desk from then on. */
function useTakeOnDesk(person: Person, revision: Revision | undefined): void {
  const id = revision?.id;
  const fresh = revision?.state === 'handed in' && person.role !== 'student';
  useEffect(() => {
    if (!id || !fresh) return;
    call(ROUTES.takeOnDesk, { id })
      .then(refreshShot)
      .catch((error: unknown) => {
        if (!(error instanceof RequestError)) throw error;
      });
  }, [id, fresh]);
}

/** Where the shot stands in the docket, with the ways to those beside it: they are fetched before they are asked for. */
function DocketPlace({ at, docket, state }: { at: number; docket: readonly string[]; state: unknown }) {
  const before = docket[(at - 1 + docket.length) % docket.length];
  const next = docket[(at + 1) % docket.length];
  useEffect(() => {
    const timer = setTimeout(() => {
      for (const id of new Set([next, before])) if (id) preloadShot(id);
    }, 1_500);
    return () => clearTimeout(timer);
  }, [before, next]);
  const link = (to: number, label: string, icon: React.ReactNode) => (
    <Button look="quiet" asChild className="!px-1">
      <Link to={`/desk/${docket[(to + docket.length) % docket.length]}`} state={state} aria-label={label}>
        {icon}
      </Link>
    </Button>
  );
  return (
    <span className="frame-number inline-flex items-center text-sm text-graphite">
      {link(at - 1, 'The shot before in the docket', <ChevronLeft size={15} />)}
      {at + 1}
      <span className="max-[1100px]:hidden">&nbsp;of {docket.length}</span>
      {link(at + 1, 'The next shot in the docket', <ChevronRight size={15} />)}
    </span>
  );
}

function Revisions({ shot, current, onShow }: { shot: Shot; current: Revision; onShow: (number: number) => void }) {
  return (
    <div role="group" aria-label="Revisions" className="flex gap-0.5">
      {shot.revisions.map((r) => (
        <button
          key={r.id}
          type="button"
          aria-pressed={r.id === current.id}
          title={`Revision ${r.number}, ${r.stage}, ${r.state}`}
          onClick={() => onShow(r.number)}
          className={`frame-number rounded-md border px-1.5 text-sm ${r.id === current.id ? 'border-ink bg-ink text-sheet' : 'border-edge-strong hover:bg-wash'} ${r.state === 'withdrawn' ? 'line-through' : ''}`}
        >
          R{r.number}
        </button>
      ))}
    </div>
  );
}

function OwnActions({ shot, newest }: { shot: Shot; newest: Revision | undefined }) {
  if (!newest || newest.state === 'signed off') return null;
  const shows = shot.demonstration !== null;
  const withdraw = async (): Promise<void> => {
    if (
      await attempt(async () =>
        refreshShot(
          await (shows ? call(ROUTES.dropDemonstration, { id: shot.id }) : call(ROUTES.withdraw, { id: newest.id })),
        ),
      )
    )
      toast(
        shows ? 'Withdrawn: nobody sees it beside their shot any more.' : 'Withdrawn. You can hand in another file.',
      );
  };
  if (newest.state === 'handed in')
    return (
      <>
        {shows && (
          <Button asChild>
            <Link to={`/hand-in/${shot.assignment}`}>Show another take</Link>
          </Button>
        )}
        <Button look="plain" onClick={() => void withdraw()}>
          Withdraw
        </Button>
      </>
    );
  if (newest.state !== 'sent back' && newest.state !== 'withdrawn') return null;
  return (
    <Button look="student" asChild>
      <Link to={`/hand-in/${shot.assignment}`}>Hand in the next revision</Link>
    </Button>
  );
}
