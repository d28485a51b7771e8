import { useMemo, useState } from 'react';
import { useNavigate, useParams, useSearchParams } from 'react-router';
import type { Person } from '@ypsigraph/contract/people';
import { EXEMPLARS } from '@ypsigraph/core/exemplar/exemplars';
import { FAULT_WORDS } from '@ypsigraph/core/exemplar/fault-words';
import { writeBvh } from '@ypsigraph/core/formats/bvh/write-bvh';
import { judgeShot } from '@ypsigraph/core/gauge/findings';
import { defaultGauges } from '@ypsigraph/core/gauge/gauges';
import { reportShot } from '@ypsigraph/core/measure/report';
import type { PreparedShot } from '@ypsigraph/core/motion/prepared-shot';
import { useKept } from '../../api/kept.ts';
import { Button } from '../../kit/button.tsx';
import { saveBytes, saveText } from '../../kit/save-text.ts';
import { Select } from '../../kit/select.tsx';
import { Empty } from '../../kit/states.tsx';
import type { KeptBrief } from '../briefs/brief-page.tsx';
import { ExemplarDials } from '../briefs/exemplar-dials.tsx';
import { NumberInput } from '../briefs/sections.tsx';
import { FigureMoving } from '../figure-moving.tsx';
import { FindingsSaid } from '../findings-said.tsx';
import { type Faults, useFaultyExemplar } from './faulty-exemplar.ts';
import { ShowExemplar } from './show-exemplar.tsx';

/** Motions that show an exercise done, set by dials, and what is wrong with one dialled in: to show in a lesson, to hand out, to write a brief with. */
export function ExemplarsPage({ person }: { person: Person }) {
  const { name = 'walk' } = useParams();
  if (!Object.hasOwn(EXEMPLARS, name)) return <Empty title="There is no such motion">Choose one above.</Empty>;
  return <Exemplar key={name} name={name} may={person.role === 'instructor'} />;
}

function Exemplar({ name, may }: { name: string; may: boolean }) {
  const { faults: known } = EXEMPLARS[name]!;
  const [set, setSet] = useState<Readonly<Record<string, string | number>>>({});
  const [params] = useSearchParams();
  const [faults, setFaults] = useState<Faults>(() => dialled(known, params));
  const [cures, setCures] = useState(params.has('cure'));
  const [kept, setKept] = useKept<KeptBrief>('brief:new');
  const navigate = useNavigate();
  const exemplar = { name, set };
  const { blank, made, cured } = useFaultyExemplar(name, set, faults, cures);
  const file = (shot: PreparedShot): void => {
    const wrong = Object.keys(faults).map((fault) => `-${fault.toLowerCase()}`);
    saveText(writeBvh(shot.motion), `${name}${wrong.join('')}.bvh`);
  };
  /** The same with a body around it, as a file that keeps it. */
  const character = async (shot: PreparedShot): Promise<void> => {
    const { characterFile } = await import('@ypsigraph/core/exemplar/character');
    saveBytes(await characterFile(shot.motion, { metresPerUnit: shot.scale.metresPerUnit }), `${name}.glb`);
  };
  const puppet = async (shot: PreparedShot): Promise<void> => {
    const { puppetFile } = await import('@ypsigraph/core/exemplar/puppet');
    saveBytes(puppetFile(shot), `${name}.json`);
  };
  const brief = (): void => {
    setKept({ of: null, content: { ...(kept?.content ?? blank), exemplar } });
    void navigate('/briefs/new');
  };
  return (
    <main className="mx-auto max-w-6xl px-6 py-5">
      <div className="mb-3 flex flex-wrap items-center gap-3">
        <h1 className="text-2xl">Exemplars</h1>
        <Select
          label="Motion"
          value={name}
          onChange={(own) => void navigate(`/exemplars/${own}`)}
          options={Object.keys(EXEMPLARS).map((value) => ({ value, text: value }))}
        />
        {typeof made === 'object' && (
          <Button look="quiet" onClick={() => file(made.shot)}>
            As a motion (BVH)
          </Button>
        )}
        {typeof made === 'object' && (
          <Button look="quiet" onClick={() => void character(made.shot)}>
            As a character (glTF)
          </Button>
        )}
        {typeof made === 'object' && (
          <Button look="quiet" onClick={() => void puppet(made.shot)}>
            As a puppet (Lottie)
          </Button>
        )}
        {Object.keys(faults).length > 0 && (
          <Button look="quiet" on={cures} onClick={() => setCures(!cures)}>
            One way to do it
          </Button>
        )}
        {may && (
          <Button look="quiet" onClick={brief}>
            {kept ? 'Into the brief being written' : 'Write a brief with it'}
          </Button>
        )}
      </div>
      {may && cures && <ShowExemplar name={name} faults={faults} asUsual={Object.keys(set).length === 0} />}
      <div className="grid gap-6 lg:grid-cols-[minmax(0,1fr)_24rem]">
        <div>
          {typeof made === 'object' && (
            <FigureMoving
              shot={made.shot}
              steps
              tall
              beside={
                cured === undefined ? undefined : { shot: cured, captions: ['with the fault', 'one way to do it'] }
              }
            />
          )}
          {typeof made === 'string' && (
            <p role="alert" className="border-l-[3px] border-ink bg-wash px-3 py-2 text-sm">
              It can’t be made so: {made}.
            </p>
          )}
          {typeof made === 'object' && <Said shot={made.shot} />}
        </div>
        <div className="space-y-5">
          <FaultList known={known} faults={faults} onChange={setFaults} />
          <section aria-label="Dials">
            <div className="flex items-baseline gap-3">
              <h2 className="text-lg">How it moves</h2>
              {Object.keys(set).length > 0 && (
                <Button look="quiet" className="!min-h-6 text-xs" onClick={() => setSet({})}>
                  As usual
                </Button>
              )}
            </div>
            <ExemplarDials choice={exemplar} onChange={(choice) => setSet(choice.set)} />
          </section>
        </div>
      </div>
    </main>
  );
}

/** Faults as the address dials them in: one that the motion has, with its size. */
function dialled(known: readonly string[], params: URLSearchParams): Faults {
  const [fault, size] = [params.get('fault') ?? '', Number(params.get('size'))];
  return known.includes(fault) ? { [fault]: size > 0 && size < 1e4 ? size : FAULT_WORDS[fault]!.usual } : {};
}

/** What the usual gauges of its kind say of it, as they would of a shot that is handed in. */
function Said({ shot }: { shot: PreparedShot }) {
  const { findings, judged } = useMemo(() => {
    const report = reportShot(shot, { file: 'exemplar', format: 'bvh', warnings: [] });
    return judgeShot(defaultGauges(shot.kind, shot.fps), report, 'polish');
  }, [shot]);
  return (
    <section aria-label="What is found" className="mt-4 text-sm" data-testid="said">
      <h2 className="text-lg">What is found in it</h2>
      <p className="text-graphite">
        {findings.length === 0
          ? `Nothing: all ${judged} usual gauges of a ${shot.kind} are kept.`
          : `By the ${judged} usual gauges of a ${shot.kind}, at polish:`}
      </p>
      <FindingsSaid findings={findings} most={8} />
    </section>
  );
}

interface FaultListProps {
  readonly known: readonly string[];
  readonly faults: Faults;
  readonly onChange: (faults: Faults) => void;
}

/** What can be wrong with it, each chosen by its words, with its size. */
function FaultList({ known, faults, onChange }: FaultListProps) {
  const without = (fault: string): Faults => {
    const { [fault]: _, ...rest } = faults;
    return rest;
  };
  return (
    <section aria-label="Faults">
      <h2 className="text-lg">What is wrong with it</h2>
      <ul className="text-sm">
        {known.map((fault) => {
          const { say, usual, unit } = FAULT_WORDS[fault]!;
          const size = faults[fault];
          return (
            <li key={fault} className="flex min-h-8 items-center gap-2">
              <label className="flex min-w-0 flex-1 items-center gap-2">
                <input
                  type="checkbox"
                  checked={size !== undefined}
                  onChange={({ target }) => onChange(target.checked ? { ...faults, [fault]: usual } : without(fault))}
                />
                {say}
              </label>
              {size !== undefined && unit && (
                <>
                  <div className="w-16 shrink-0">
                    <NumberInput
                      label={`${say}, ${unit}`}
                      step={usual < 2 ? 0.1 : 1}
                      value={size}
                      onChange={(next) => next !== null && onChange({ ...faults, [fault]: next })}
                    />
                  </div>
                  <span className="text-xs text-graphite">{unit}</span>
                </>
              )}
            </li>
          );
        })}
      </ul>
    </section>
  );
}
