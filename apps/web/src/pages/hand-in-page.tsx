import { FileUp } from 'lucide-react';
import { Progress } from 'radix-ui';
import { useRef, useState } from 'react';
import { Link, useNavigate, useParams, useSearchParams } from 'react-router';
import { toast } from 'sonner';
import { WORKED_ON } from '@ypsigraph/contract/shots';
import { Stage } from '@ypsigraph/contract/vocabulary';
import { RequestError } from '../api/client.ts';
import { forgetShot, useAssignment } from '../api/data.ts';
import { handIn } from '../api/hand-in.ts';
import { useKept } from '../api/kept.ts';
import { Button } from '../kit/button.tsx';
import { Field, INPUT } from '../kit/field.tsx';
import { Select } from '../kit/select.tsx';
import { sizeOf } from '../kit/size-of.ts';
import { Failed, Waiting } from '../kit/states.tsx';
import { day } from '../kit/when.ts';
import { FileCheck } from './file-check.tsx';
import { type TakenFor, UNTOUCHED } from './taken-for.ts';
import { type Dropped, MOTIONS, SOUND, together, whatItIs } from './dropped-files.ts';
import { SelfCheck } from './self-check.tsx';
import type { Person } from '@ypsigraph/contract/people';
import { RoomLine } from './room-line.tsx';

type StageName = (typeof Stage.options)[number];

/** What is written on this page, and kept until it is sent. */
interface HandInText {
  readonly note: string;
  readonly stage: StageName;
  readonly workedOn: readonly string[];
}

/**
 * Handing in: a student’s own shot, or, of those who teach, something that shows how it is done. It is looked at here first, then sent, and what the
 * server refuses is said in its words.
 */
export function HandInPage({ person }: { person: Person }) {
  const { id } = useParams();
  const { data: assignment, error } = useAssignment(id);
  const [text, setText] = useKept<HandInText>(`hand-in:${id ?? ''}`);
  const { note = '', stage = 'smoothing', workedOn = [] } = text ?? {};
  const [curesSeen, setCuresSeen] = useState<readonly string[]>([]);
  const set = (change: Partial<HandInText>): void => setText({ note, stage, workedOn, ...change });
  const [taken, setTaken] = useState(UNTOUCHED);
  const [answers, setAnswers] = useKept<TakenFor>('taken-for');
  const [dropped, setDropped] = useState<Dropped>();
  const [clip, setClip] = useState<File>();
  const [clipFirst, setClipFirst] = useState<number>();
  const [readable, setReadable] = useState(false);
  const [refusal, setRefusal] = useState<RequestError>();
  const [sent, setSent] = useState<number>();
  const abort = useRef<AbortController>(undefined);
  const navigate = useNavigate();
  const [search] = useSearchParams();

  if (error) return <Failed error={error} />;
  if (!assignment) return <Waiting />;

  const shows = person.role !== 'student';
  const besideShot = (shows && search.get('beside')) || undefined;
  const file = dropped?.file;
  const isMotion = dropped?.is === 'motion';
  const beside = isMotion ? clip : undefined;
  const beginsAt = clipFirst ?? assignment.brief.firstFrame;
  /** What was dropped: a motion, a clip, or one of each. A clip beside a motion goes with it. */
  const take = async (files: readonly File[]): Promise<void> => {
    const all = await Promise.all((await together(files)).map(whatItIs));
    const [motion, pictures, sound] = (['motion', 'pictures', 'sound'] as const).map((what) =>
      all.find(({ is }) => is === what),
    );
    setRefusal(undefined);
    // A sound that comes by itself belongs to the motion that is there.
    if (sound && all.length === 1 && isMotion) return setClip(sound.file);
    setReadable(false);
    setTaken(UNTOUCHED);
    setDropped(motion ?? pictures ?? sound);
    const beside = pictures ?? sound ?? (dropped?.is === 'sound' ? dropped : undefined);
    if (motion && beside) setClip(beside.file);
  };
  const submit = async (): Promise<void> => {
    if (!file) return;
    setRefusal(undefined);
    setSent(0);
    abort.current = new AbortController();
    try {
      const made = await handIn(
        assignment.id,
        {
          stage,
          note,
          workedOn,
          curesSeen,
          ...taken,
          file,
          clip: beside && { file: beside, first: beginsAt },
          beside: besideShot,
        },
        setSent,
        abort.current.signal,
      );
      setText(undefined);
      if (isMotion) setAnswers(taken);
      await forgetShot(made.shot);
      toast.success(shows ? 'It stands beside the exercise’s shots now.' : 'Handed in.');
      void navigate(`/desk/${made.shot}`);
    } catch (caught) {
      if (!(caught instanceof RequestError)) throw caught;
      setRefusal(caught);
    } finally {
      setSent(undefined);
    }
  };

  return (
    <main className="mx-auto max-w-2xl px-5 py-5">
      <p className="text-sm">
        <Link to={shows ? `/exercise/${assignment.id}` : '/worksheet'} className="underline underline-offset-2">
          {shows ? 'Exercise' : 'Worksheet'}
        </Link>
      </p>
      <h1 className="text-2xl">
        {shows ? 'Show how:' : 'Hand in'} {assignment.brief.title}
      </h1>
      {shows && (
        <p className="mt-1 max-w-prose text-sm">
          A motion, a clip, recorded by phone as well, or drawings of your own:{' '}
          {besideShot
            ? 'the student can lay it beside this one shot'
            : 'everybody of the exercise can lay it beside their shot'}
          , aligned and in its own time, and step it. Another file later takes its place.
        </p>
      )}
      <p className="mt-1 max-w-prose text-sm">
        {assignment.brief.stages.find((own) => own.stage === stage)?.shows ?? assignment.brief.text}{' '}
        <Link to={`/exercise/${assignment.id}`} className="underline underline-offset-2">
          The whole brief
        </Link>
      </p>
      <p className="mt-1 text-sm text-graphite">
        {assignment.closed ? 'This exercise is closed.' : `Due ${day(assignment.due)}.`}{' '}
        {assignment.begun && `The clock runs until ${day(assignment.begun.until)}.`} First frame{' '}
        {assignment.brief.firstFrame}, {assignment.brief.fps} frames a second.
      </p>
      <form
        className="mt-5 space-y-4"
        onSubmit={(event) => {
          event.preventDefault();
          void submit();
        }}
      >
        <FileDrop
          file={file}
          onFiles={(files) => void take(files)}
          asks="Drop your motion, clip or drawings here, or choose them"
          takes="A motion (BVH, glTF: .glb, or .gltf with its files) or a puppet (Lottie: .json, .lottie) of at most 64 MB; a clip (WebM, MP4, MOV, GIF, APNG, WebP) or a zip of numbered drawings of at most 512 MB and 3 minutes; or a motion together with the clip of it, or with its sound"
          accept={`${MOTIONS},.bin,${CLIPS},${SOUNDS}`}
        />
        {dropped && (
          <FileCheck
            {...dropped}
            brief={assignment.brief}
            taken={taken}
            onTaken={setTaken}
            answers={answers}
            onChecked={setReadable}
          />
        )}
        {isMotion && readable && (
          <>
            <FileDrop
              file={clip}
              onFiles={([chosen]) => setClip(chosen)}
              asks="The clip of it, if there is one: what your camera saw; or its sound"
              takes="A clip is shown beside the figure, or beneath it, on the same frames; a sound (WAV, MP3, Ogg, M4A, FLAC) is heard with it. Only the motion is measured."
              accept={`${CLIPS},${SOUNDS}`}
              small
            />
            {clip && (
              <div className="flex flex-wrap items-end gap-3">
                <Field
                  label={
                    SOUND.test(clip.name)
                      ? 'The sound begins with frame … of the motion'
                      : 'The clip’s first frame is frame … of the motion'
                  }
                >
                  {(fieldId) => (
                    <input
                      id={fieldId}
                      type="number"
                      step={1}
                      className={`${INPUT} frame-number !w-28`}
                      value={beginsAt}
                      onChange={({ target }) =>
                        setClipFirst(Number.isInteger(target.valueAsNumber) ? target.valueAsNumber : undefined)
                      }
                    />
                  )}
                </Field>
                <Button look="quiet" onClick={() => setClip(undefined)}>
                  Leave the {SOUND.test(clip.name) ? 'sound' : 'clip'} out
                </Button>
              </div>
            )}
          </>
        )}
        <Field label="Stage" hint="What you would like to be judged on. Polish is not looked for in blocking.">
          {() => (
            <Select
              label="Stage"
              value={stage}
              onChange={(value) => set({ stage: value })}
              options={Stage.options.map((value) => ({ value, text: value }))}
              className="w-44"
            />
          )}
        </Field>
        {file && isMotion && readable && (
          <SelfCheck
            file={file}
            brief={assignment.brief}
            stage={stage}
            taken={taken}
            onCureSeen={(seen) => setCuresSeen((own) => [...new Set([...own, seen])])}
          />
        )}
        <fieldset>
          <legend className="mb-0.5 text-xs font-semibold text-graphite">What you worked on this time</legend>
          <div className="flex flex-wrap gap-x-4 gap-y-1 text-sm">
            {WORKED_ON.map((part) => (
              <label key={part} className="flex min-h-6 items-center gap-1.5">
                <input
                  type="checkbox"
                  checked={workedOn.includes(part)}
                  onChange={(event) =>
                    set({
                      workedOn: event.target.checked ? [...workedOn, part] : workedOn.filter((own) => own !== part),
                    })
                  }
                />
                {part}
              </label>
            ))}
          </div>
        </fieldset>
        <Field label="A note to your instructor">
          {(fieldId) => (
            <textarea
              id={fieldId}
              className={`${INPUT} min-h-20 border-l-2 border-l-student`}
              maxLength={4000}
              value={note}
              onChange={(event) => set({ note: event.target.value })}
            />
          )}
        </Field>
        <RoomLine />
        {refusal && (
          <div role="alert" className="border-l-[3px] border-ink bg-wash px-3 py-2">
            <p className="font-semibold">{refusal.problem.title}</p>
            {refusal.problem.detail && <p className="text-sm">{refusal.problem.detail}</p>}
          </div>
        )}
        {sent !== undefined ? (
          <div className="flex items-center gap-3">
            <Progress.Root
              value={Math.round(sent * 100)}
              aria-label="Sent"
              className="h-3 flex-1 overflow-hidden rounded-sm border border-edge-strong bg-sheet"
            >
              <Progress.Indicator className="h-full bg-student" style={{ width: `${sent * 100}%` }} />
            </Progress.Root>
            <span className="frame-number text-sm">{Math.round(sent * 100)} %</span>
            <Button onClick={() => abort.current?.abort()}>Stop</Button>
          </div>
        ) : (
          <Button type="submit" look="student" disabled={!file || !readable}>
            {refusal?.passing ? 'Try again' : shows ? 'Put it beside' : 'Hand it in'}
          </Button>
        )}
      </form>
    </main>
  );
}

/** What clips and drawings are called. */
const CLIPS =
  '.zip,.webm,.mkv,.mp4,.m4v,.mov,.gif,.png,.apng,.webp,video/*,image/gif,image/webp,image/apng,application/zip';

/** What sounds are called. */
const SOUNDS = '.wav,.mp3,.ogg,.oga,.opus,.m4a,.flac,audio/*';

interface FileDropProps {
  readonly file: File | undefined;
  /** Told what was dropped or chosen: one file or more. */
  readonly onFiles: (files: readonly File[]) => void;
  readonly asks: string;
  readonly takes: string;
  readonly accept: string;
  readonly small?: boolean;
}

function FileDrop({ file, onFiles, asks, takes, accept, small = false }: FileDropProps) {
  const [over, setOver] = useState(false);
  return (
    <label
      className={`flex flex-col items-center gap-1 rounded-lg border-2 border-dashed px-4 ${small ? 'py-2' : 'py-6'} text-center focus-within:outline-2 ${over ? 'border-student bg-student-wash' : 'border-edge-strong bg-sheet'}`}
      onDragOver={(event) => {
        event.preventDefault();
        setOver(true);
      }}
      onDragLeave={() => setOver(false)}
      onDrop={(event) => {
        event.preventDefault();
        setOver(false);
        const dropped = [...event.dataTransfer.files];
        if (dropped.length > 0) onFiles(dropped);
      }}
    >
      <FileUp size={20} className="text-graphite" aria-hidden />
      <span className="font-semibold">{file ? file.name : asks}</span>
      <span className="text-xs text-graphite">
        {file ? `${sizeOf(file.size)}. Choose another to replace it.` : takes}
      </span>
      <input
        type="file"
        accept={accept}
        multiple={!small}
        className="sr-only"
        onChange={(event) => {
          const chosen = [...(event.target.files ?? [])];
          if (chosen.length > 0) onFiles(chosen);
          event.target.value = '';
        }}
      />
    </label>
  );
}
