import { EXEMPLARS } from '@ypsigraph/core/exemplar/exemplars';
import type { ExemplarChoice } from '@ypsigraph/contract/briefs';
import { nameOf } from '../../desk/margin/readings-rows.ts';
import { Select } from '../../kit/select.tsx';
import { NumberInput } from './sections.tsx';

/** Dials whose own names say too little. */
const DIALS: Readonly<Record<string, string>> = {
  fps: 'frames a second',
  bob: 'hips up and down',
  shift: 'hips to the side',
};

/** Values that a dial's word can have. */
const WORDS: Readonly<Record<string, readonly string[]>> = { loop: ['repeat', 'follow'] };

/** Where a number's dial goes from and to: it reaches twice as far as what is usual. */
const reach = (usual: number): readonly [number, number, number] => {
  const most = usual === 0 ? 1 : Math.abs(usual) * 2;
  return [usual < 0 ? -most : 0, most, Number.isInteger(usual) && Math.abs(usual) >= 8 ? 1 : most / 40];
};

interface Props {
  readonly choice: ExemplarChoice;
  readonly onChange: (choice: ExemplarChoice) => void;
}

/** What can be set on an exemplar: a dial and a number each; what differs from the usual stands out. */
export function ExemplarDials({ choice, onChange }: Props) {
  const kind = EXEMPLARS[choice.name];
  if (!kind) return null;
  const dial = (name: string, value: number | string): void => {
    const { [name]: _, ...rest } = choice.set;
    onChange({ ...choice, set: value === kind.defaults[name] ? rest : { ...rest, [name]: value } });
  };
  return (
    <ul className="mt-3 space-y-1 text-sm">
      {Object.entries(kind.defaults).map(([name, usual]) => {
        const value = choice.set[name] ?? usual;
        if (typeof usual === 'string')
          return (
            <li key={name} className="grid grid-cols-[8rem_1fr] items-center gap-2">
              <span>{nameOf(name)}</span>
              <Select
                label={nameOf(name)}
                value={String(value)}
                onChange={(word) => dial(name, word)}
                options={(WORDS[name] ?? [usual]).map((word) => ({ value: word, text: word }))}
              />
            </li>
          );
        const [low, high, step] = reach(usual);
        return (
          <li key={name} className="grid grid-cols-[8rem_minmax(0,1fr)_4.5rem] items-center gap-2">
            <span className={name in choice.set ? 'font-semibold' : ''}>{DIALS[name] ?? nameOf(name)}</span>
            <input
              type="range"
              aria-label={`${nameOf(name)}, dial`}
              min={low}
              max={high}
              step={step}
              value={Number(value)}
              onChange={(e) => dial(name, e.target.valueAsNumber)}
            />
            <NumberInput
              label={nameOf(name)}
              step={step}
              value={Number(value)}
              onChange={(next) => next !== null && dial(name, next)}
            />
          </li>
        );
      })}
    </ul>
  );
}
