import { useState } from 'react';
import type { StoredRecipe } from '@ypsigraph/contract/recipes';
import { sayReadingValue } from '@ypsigraph/core/mark/quote';
import type { Reading } from '@ypsigraph/core/measure/reading';
import { readingName } from '@ypsigraph/core/measure/registry';
import type { KeyedChange } from '@ypsigraph/core/remedy/keyed-changes';
import { differsFrom, type Outcome } from '@ypsigraph/core/remedy/stored-recipe';
import { partLabel } from '@ypsigraph/core/say/part-names';
import { capital, figures } from '@ypsigraph/core/say/words';
import { Button } from '../../kit/button.tsx';
import type { Shown } from '../../workers/cure.worker.ts';
import { useDesk } from '../desk-store.ts';
import { useClock } from '../frames/frame-clock.ts';
import type { CureFor } from './cure-store.ts';

/** Whether a cure that another version of the core made comes out as it did when it was kept. */
export function Since({ kept, today }: { kept: StoredRecipe; today: Outcome }) {
  const differs = differsFrom(kept.came, today);
  return (
    <p className={`mt-1 ${differs ? 'font-semibold' : 'text-graphite'}`} data-testid="cure-since">
      {!kept.came
        ? 'It was kept by an earlier version, and may come out a little otherwise today.'
        : !differs
          ? 'It was kept by an earlier version, and comes out the same today.'
          : differs.joint === undefined
            ? `It comes out otherwise than when it was kept: ${differs.now} frames now, ${differs.then} then.`
            : `It comes out otherwise than when it was kept: ${partLabel(differs.joint)} by ${figures(differs.now)} now, ${figures(differs.then)} then.`}
    </p>
  );
}

/** What the cure did: to what it is for, to everything else, and joint by joint. */
export function Did({ shown, on, tellsFindings }: { shown: Shown; on: CureFor; tellsFindings: boolean }) {
  // Of several moves or holds it is not told which one: then what is gone says enough.
  const own = (readings: readonly Reading[]): Reading | undefined => {
    const same = readings.filter(({ id, part }) => id === on.finding?.reading && part === on.finding.part);
    return same.length === 1 ? same[0] : undefined;
  };
  const [was, is] = [own(shown.before), own(shown.after)];
  // What else the gauges find is the reviewer's own, until it is sent.
  const { gone, fresh } = tellsFindings ? shown : { gone: [], fresh: [] };
  const told = ({ id, value, unit }: Reading): string => sayReadingValue(id, value, unit);
  return (
    <div className="mt-1.5 space-y-0.5" data-testid="cure-did">
      {was && is && (
        <p>
          {capital(readingName(was.id))}: {told(was)} → <strong>{told(is)}</strong>
        </p>
      )}
      {gone.map(({ say }) => (
        <p key={`gone ${say}`}>● {say === on.about ? 'this is gone then' : `gone: ${say}`}</p>
      ))}
      {fresh.map((finding) => (
        <p key={`fresh ${finding.say}`} className="font-semibold">
          ○ new: {finding.say}
          {finding.judgement === 'near' && ' (near the edge)'}
        </p>
      ))}
      {shown.notes.map((note) => (
        <p key={note} className="text-graphite">
          {capital(note)}.
        </p>
      ))}
      {shown.map && <Moved shown={shown} map={shown.map} />}
      <Changes changes={shown.changes} />
    </div>
  );
}

/** How long the shot is then, or from where on its frames lie elsewhere. */
function Moved({ shown, map }: { shown: Shown; map: readonly number[] }) {
  const first = map.findIndex((from, f) => from !== f);
  if (first < 0) return null;
  const long = shown.shot.played.motion.frames;
  return (
    <p>
      The shot is then {long} frames long; other frames from {shown.shot.firstFrame + first} on.
    </p>
  );
}

/** As many joints as are told at once. */
const MOST = 6;

function Changes({ changes }: { changes: readonly KeyedChange[] }) {
  const [every, setEvery] = useState(false);
  const clock = useClock();
  if (changes.length === 0) return null;
  return (
    <details className="pt-0.5">
      <summary className="cursor-pointer text-graphite">What it would be keyed as</summary>
      <ul className="mt-0.5">
        {(every ? changes : changes.slice(0, MOST)).map(({ joint, unit, along, keys }) => (
          <li key={`${joint} ${along ?? ''}`}>
            {joint}
            {along ? ` ${along}` : ''}:{' '}
            {keys.map(({ label, by, isNew }, k) => (
              <button
                key={label}
                type="button"
                className="frame-number mr-1 underline-offset-2 hover:underline"
                onClick={() => {
                  clock.seek(label);
                  useDesk.getState().set({ point: joint });
                }}
              >
                {by > 0 ? '+' : '−'}
                {figures(Math.abs(by))}
                {unit === '°' ? '°' : ' %'} at {label}
                {isNew && ' (new)'}
                {k + 1 < keys.length && ','}
              </button>
            ))}
          </li>
        ))}
      </ul>
      {changes.length > MOST && (
        <Button look="quiet" className="!min-h-6 text-xs" onClick={() => setEvery(!every)}>
          {every ? 'Only the largest' : `All ${changes.length} joints`}
        </Button>
      )}
    </details>
  );
}
