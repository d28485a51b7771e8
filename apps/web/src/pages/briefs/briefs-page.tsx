import { addressOf } from '@ypsigraph/contract/route';
import { ROUTES } from '@ypsigraph/contract/routes';
import { useState } from 'react';
import { Link, useNavigate } from 'react-router';
import { toast } from 'sonner';
import { type BriefFileFormat, type BriefVersions, type ListedBrief } from '@ypsigraph/contract/briefs';
import type { Person } from '@ypsigraph/contract/people';
import { attempt } from '../../api/attempt.ts';
import { RequestError, call } from '../../api/client.ts';
import { useBriefs, again } from '../../api/data.ts';
import { Button } from '../../kit/button.tsx';
import { FileButton } from '../../kit/file-button.tsx';
import { saveText } from '../../kit/save-text.ts';
import { Failed, Waiting } from '../../kit/states.tsx';
import { NextStep } from '../first-steps.tsx';
import { ShelfSection } from './shelf-section.tsx';
import { readBriefFile } from './read-brief-file.ts';

/** Every exercise that has been written, and how much it is used. */
export function BriefsPage({ person }: { person: Person }) {
  const { data, error, mutate } = useBriefs();
  const [refusal, setRefusal] = useState<readonly string[]>([]);
  const navigate = useNavigate();
  if (error && !data) return <Failed error={error} again={() => void mutate()} />;
  if (!data) return <Waiting />;
  const may = person.role === 'instructor';
  const open = async (made: BriefVersions): Promise<void> => {
    await again(ROUTES.briefs);
    void navigate(`/briefs/${made.versions[0]!.id}`);
  };
  const takeCourse = async (file: File): Promise<void> => {
    const form = new FormData();
    form.append('file', file);
    const { briefs, phrases } = await call(ROUTES.importCourse, {}, form);
    setRefusal([]);
    await again(ROUTES.briefs);
    toast.success(
      `${briefs.length} ${briefs.length === 1 ? 'brief is' : 'briefs are'} taken in: ${briefs.map(({ title }) => title).join(', ')}.${
        phrases > 0 ? ` ${phrases} ${phrases === 1 ? 'phrase' : 'phrases'} with them.` : ''
      }`,
    );
  };
  const take = async (file: File): Promise<void> => {
    try {
      if (/\.zip$/i.test(file.name)) return await takeCourse(file);
      const read = readBriefFile(await file.text());
      if ('faults' in read) return setRefusal(read.faults);
      setRefusal([]);
      const made = await call(ROUTES.importBrief, {}, read.brief);
      toast.success(`${made.versions[0]!.title} is taken in.`);
      await open(made);
    } catch (caught) {
      if (!(caught instanceof RequestError)) throw caught;
      setRefusal([caught.message]);
    }
  };
  return (
    <main className="mx-auto max-w-6xl px-6 py-5">
      <div className="mb-3 flex flex-wrap items-center gap-3">
        <h1 className="text-2xl">Briefs</h1>
        {may && (
          <>
            <Button asChild look="strong">
              <Link to="/briefs/new">Write a brief</Link>
            </Button>
            <FileButton accept=".json,.zip,application/json,application/zip" onFiles={([file]) => void take(file!)}>
              From a file
            </FileButton>
          </>
        )}
        {data.length > 0 && (
          <Button asChild look="quiet">
            <a
              href={addressOf(ROUTES.exportCourse)}
              title="Every brief with its versions and files, and your own phrases"
            >
              All of them as one file
            </a>
          </Button>
        )}
        <span className="text-sm text-graphite">
          What such files are (JSON Schema):{' '}
          <a className="underline underline-offset-2" href={addressOf(ROUTES.briefSchema)}>
            a brief
          </a>
          ,{' '}
          <a className="underline underline-offset-2" href={addressOf(ROUTES.courseSchema)}>
            a course
          </a>
        </span>
      </div>
      {refusal.length > 0 && (
        <div role="alert" className="mb-3 border-l-[3px] border-ink bg-wash px-3 py-2 text-sm">
          <p className="font-semibold">This file can’t be taken in.</p>
          <ul>
            {refusal.slice(0, 8).map((line) => (
              <li key={line}>{line}</li>
            ))}
          </ul>
        </div>
      )}
      {data.length === 0 ? (
        <p className="border-y border-edge-strong py-4 text-graphite">
          No brief yet.{' '}
          {may ? 'Take one over from the shelf and make it your own, or write one.' : 'An instructor writes them.'}
        </p>
      ) : (
        <table className="w-full border-collapse text-left text-sm">
          <thead className="border-b border-edge-strong text-xs text-graphite">
            <tr>
              {['Title', 'Kind', 'Frames', 'Version', 'Set for', 'Shots', ''].map((head) => (
                <th key={head} className="py-1 pr-4 font-semibold">
                  {head}
                </th>
              ))}
            </tr>
          </thead>
          <tbody>
            {data.map((brief) => (
              <Row key={brief.family} brief={brief} may={may} open={open} />
            ))}
          </tbody>
        </table>
      )}
      {may && <NextStep on="brief" />}
      {may && (
        <ShelfSection briefs={data} onTaken={(made) => toast.success(`${made.versions[0]!.title} is yours now.`)} />
      )}
    </main>
  );
}

function Row({ brief, may, open }: { brief: ListedBrief; may: boolean; open: (made: BriefVersions) => Promise<void> }) {
  const { id, title, archived } = brief;
  const file = (): Promise<BriefFileFormat> => call(ROUTES.exportBrief, { brief: id });
  const save = (): Promise<boolean> =>
    attempt(async () =>
      saveText(`${JSON.stringify(await file(), null, 2)}\n`, `${title.toLowerCase().replaceAll(' ', '-')}.brief.json`),
    );
  const copy = (): Promise<boolean> => attempt(async () => open(await call(ROUTES.importBrief, {}, await file())));
  const putAway = (): Promise<boolean> =>
    attempt(async () => {
      await call(ROUTES.archiveBrief, { brief: id }, { archived: archived === null });
      await again(ROUTES.briefs);
    });
  return (
    <tr className={`border-b border-edge align-baseline hover:bg-wash ${archived ? 'text-graphite' : ''}`}>
      <td className="py-1.5 pr-4">
        <Link to={`/briefs/${id}`} className="font-semibold underline-offset-2 hover:underline">
          {title}
        </Link>
        {brief.clockMinutes !== null && <span className="ml-2 text-xs">{brief.clockMinutes} minutes</span>}
        {archived && <span className="ml-2 text-xs">put away</span>}
      </td>
      <td className="py-1.5 pr-4">{brief.kind}</td>
      <td className="frame-number py-1.5 pr-4">{brief.frames ?? 'any'}</td>
      <td className="frame-number py-1.5 pr-4">{brief.version}</td>
      <td className="py-1.5 pr-4">{brief.cohorts.join(', ') || '—'}</td>
      <td className="frame-number py-1.5 pr-4">{brief.shots}</td>
      <td className="py-0.5 text-right whitespace-nowrap">
        {may && (
          <Button look="quiet" className="!min-h-6 text-xs" onClick={() => void copy()}>
            Duplicate
          </Button>
        )}
        <Button look="quiet" className="!min-h-6 text-xs" onClick={() => void save()}>
          As a file
        </Button>
        {brief.files > 0 && (
          <Button asChild look="quiet" className="!min-h-6 text-xs">
            <a href={addressOf(ROUTES.exportCourse, {}, { brief: id })}>With its files</a>
          </Button>
        )}
        {may && (
          <Button look="quiet" className="!min-h-6 text-xs" onClick={() => void putAway()}>
            {archived ? 'Restore' : 'Archive'}
          </Button>
        )}
      </td>
    </tr>
  );
}
