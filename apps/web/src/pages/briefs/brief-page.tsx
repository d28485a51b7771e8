import { ROUTES } from '@ypsigraph/contract/routes';
import { useDeferredValue, useState } from 'react';
import { Link, useNavigate, useParams } from 'react-router';
import { toast } from 'sonner';
import { type BriefContent, type BriefVersions, EMPTY_BRIEF } from '@ypsigraph/contract/briefs';
import type { Person } from '@ypsigraph/contract/people';
import { mergeBriefs } from '@ypsigraph/contract/merge-briefs';
import { RequestError, call } from '../../api/client.ts';
import { useBriefs, useBriefVersions, useReadingValues, again } from '../../api/data.ts';
import { useKept } from '../../api/kept.ts';
import { Button } from '../../kit/button.tsx';
import { Failed, Waiting } from '../../kit/states.tsx';
import { contentOf, faultAt, faultsOfDraft, type FieldFault, tidied } from './brief-draft.ts';
import { ExemplarSection } from './exemplar-section.tsx';
import { FilesSection } from './files-section.tsx';
import { type Meanwhile, MeanwhileNotice } from './meanwhile-notice.tsx';
import { GaugesSection } from './gauges-section.tsx';
import { PlanSection } from './plan-section.tsx';
import { RubricSection } from './rubric-section.tsx';
import { StagesSection } from './stages-section.tsx';
import { useExemplar } from './use-exemplar.ts';
import { VersionsSection } from './versions-section.tsx';
import { WhatSection } from './what-section.tsx';

/** What is being written, and on which version: kept in this browser until it is stored. */
export interface KeptBrief {
  readonly of: string | null;
  /** What that version said when the writing began. */
  readonly base?: BriefContent;
  readonly content: BriefContent;
}

/** A brief and its editor. Without an id a new one is written. */
export function BriefPage({ person }: { person: Person }) {
  const { id } = useParams();
  const { data, error, mutate: put } = useBriefVersions(id);
  if (error && !data) return <Failed error={error} />;
  if (id && !data) return <Waiting />;
  return (
    <Editor
      key={id ?? 'new'}
      id={id}
      data={data}
      may={person.role === 'instructor'}
      put={(next) => void put(next, { revalidate: false })}
    />
  );
}

interface EditorProps {
  readonly id: string | undefined;
  readonly data: BriefVersions | undefined;
  readonly may: boolean;
  readonly put: (next: BriefVersions) => void;
}

function Editor({ id, data, may, put }: EditorProps) {
  const newest = data?.versions[0];
  const [kept, setKept] = useKept<KeptBrief>(`brief:${newest?.family ?? 'new'}`);
  const { data: briefs = [] } = useBriefs();
  const { data: values } = useReadingValues(newest?.id);
  const [faults, setFaults] = useState<readonly FieldFault[]>([]);
  const [refusal, setRefusal] = useState<string>();
  const [meanwhile, setMeanwhile] = useState<Meanwhile>();
  const [busy, setBusy] = useState(false);
  const navigate = useNavigate();
  const stored = newest ? contentOf(newest) : { ...EMPTY_BRIEF, title: '', kind: 'walk' as const };
  const draft = kept?.content ?? stored;
  const exemplar = useExemplar(useDeferredValue(draft));
  const changed = kept !== undefined && JSON.stringify(tidied(kept.content)) !== JSON.stringify(stored);
  const inUse =
    newest !== undefined && (briefs.find(({ family }) => family === newest.family)?.cohorts.length ?? 0) > 0;

  const of = kept?.of ?? newest?.id ?? null;
  const base = kept?.base ?? stored;

  const set = (change: Partial<BriefContent>): void => {
    if (!may) return;
    setKept({ of, base, content: { ...draft, ...change } });
    if (faults.length > 0) setFaults(faultsOfDraft({ ...draft, ...change }));
  };
  const save = async (): Promise<void> => {
    const content = tidied(draft);
    const wrong = faultsOfDraft(content);
    setFaults(wrong);
    setRefusal(undefined);
    if (wrong.length > 0) return;
    setBusy(true);
    try {
      const next = newest
        ? await call(ROUTES.changeBrief, { brief: newest.id }, { of: of ?? newest.id, was: base, content })
        : await call(ROUTES.makeBrief, {}, content);
      setKept(undefined);
      setMeanwhile(undefined);
      await again(ROUTES.briefs);
      toast.success(
        next.versions.length > (data?.versions.length ?? 0) && newest
          ? `Stored as version ${next.versions[0]!.version}.`
          : 'Stored.',
      );
      if (newest) put(next);
      else void navigate(`/briefs/${next.versions[0]!.id}`, { replace: true });
    } catch (caught) {
      if (!(caught instanceof RequestError)) throw caught;
      // A conflict that is about no field: somebody else has stored it meanwhile.
      if (caught.problem.status === 409 && newest && !caught.problem.fields?.length)
        return await layOnTheirs(newest.id, content);
      setFaults(caught.problem.fields ?? []);
      setRefusal(caught.message);
    } finally {
      setBusy(false);
    }
  };
  const layOnTheirs = async (id: string, mine: BriefContent): Promise<void> => {
    const versions = await call(ROUTES.brief, { brief: id });
    const [theirs] = versions.versions;
    const { content, conflicts } = mergeBriefs(base, mine, contentOf(theirs!));
    setKept({ of: theirs!.id, base: contentOf(theirs!), content });
    setMeanwhile({ by: theirs!.author ?? 'Somebody', version: theirs!.version, conflicts, theirs: contentOf(theirs!) });
    put(versions);
  };
  const errorAt = (path: string): string | undefined => faultAt(faults, path);
  const editing = { draft, set, errorAt };
  return (
    <main className="mx-auto max-w-7xl px-6 py-4">
      <div className="sticky top-0 z-10 flex flex-wrap items-center gap-3 border-b border-edge-strong bg-paper py-2">
        <Link to="/briefs" className="text-sm underline underline-offset-2">
          Briefs
        </Link>
        <h1 className="text-2xl">{draft.title || 'A new brief'}</h1>
        {newest && <span className="frame-number text-sm text-graphite">version {newest.version}</span>}
        {may && (
          <span className="ml-auto flex items-center gap-2">
            {changed && <span className="text-sm text-graphite">Not stored yet; kept in this browser.</span>}
            {changed && newest && (
              <Button look="quiet" onClick={() => setKept(undefined)}>
                Undo the changes
              </Button>
            )}
            <Button look="strong" disabled={busy || (newest !== undefined && !changed)} onClick={() => void save()}>
              {inUse ? `Store as version ${newest.version + 1}` : 'Store'}
            </Button>
          </span>
        )}
      </div>
      {refusal && (
        <p role="alert" className="border-l-[3px] border-ink bg-wash px-3 py-2 text-sm">
          {refusal}
        </p>
      )}
      {meanwhile && changed && <MeanwhileNotice meanwhile={meanwhile} set={set} />}
      {faults.length > 0 && !refusal && (
        <p role="alert" className="border-l-[3px] border-ink bg-wash px-3 py-2 text-sm">
          {faults.length === 1 ? 'Something is' : `${faults.length} things are`} not right yet: {faults[0]!.message}.
        </p>
      )}
      {inUse && (
        <p className="py-2 text-sm text-graphite">
          This brief is set. What you change becomes a version of its own; shots that are begun keep the one they were
          begun with, and students read what changed.
        </p>
      )}
      {/* Who may not change it reads it. */}
      <fieldset disabled={!may} className="grid grid-cols-[minmax(0,1fr)_22rem] gap-8">
        <div>
          <WhatSection {...editing} briefs={briefs.filter(({ family }) => family !== newest?.family)} />
          <StagesSection {...editing} />
          <PlanSection {...editing} exemplar={typeof exemplar === 'object' ? exemplar.shot : undefined} />
          <GaugesSection
            {...editing}
            values={values}
            exemplar={typeof exemplar === 'object' ? exemplar.readings : []}
          />
          <RubricSection {...editing} />
          {newest && id ? (
            <FilesSection brief={newest} onChange={put} />
          ) : (
            <p className="border-t border-edge-strong py-4 text-sm text-graphite">
              Files to start from can be added once the brief is stored.
            </p>
          )}
        </div>
        <div className="pt-4">
          <div className="sticky top-16 max-h-[calc(100vh-8rem)] overflow-y-auto pr-3">
            <ExemplarSection choice={draft.exemplar} made={exemplar} onChange={(choice) => set({ exemplar: choice })} />
            {data && <VersionsSection versions={data.versions} />}
          </div>
        </div>
      </fieldset>
    </main>
  );
}
