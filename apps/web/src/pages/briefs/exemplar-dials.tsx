import { dialWords } from '@ypsigraph/core/exemplar/dial-words';
import { EXEMPLARS } from '@ypsigraph/core/exemplar/exemplars';
import type { ExemplarChoice } from '@ypsigraph/contract/briefs';
import { Select } from '../../kit/select.tsx';
import { NumberInput } from './sections.tsx';

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
        const { name: called, unit, words = [usual] } = dialWords(choice.name, name);
        if (typeof usual === 'string')
          return (
            <li key={name} className="grid grid-cols-[8rem_1fr] items-center gap-2">
              <span>{called}</span>
              <Select
                label={called}
                value={String(value)}
                onChange={(word) => dial(name, word)}
                options={words.map((word) => ({ value: String(word), text: String(word) }))}
              />
            </li>
          );
        const [low, high, step] = reach(usual);
        return (
          <li key={name} className="grid grid-cols-[9rem_minmax(0,1fr)_4.5rem] items-center gap-2">
            <span className={`leading-tight ${name in choice.set ? 'font-semibold' : ''}`}>
              {called}
              {unit && <span className="block text-2xs font-normal text-graphite">{unit}</span>}
            </span>
            <input
              type="range"
              aria-label={`${called}, dial`}
              min={low}
              max={high}
              step={step}
              value={Number(value)}
              onChange={(e) => dial(name, e.target.valueAsNumber)}
            />
            <NumberInput
              label={called}
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
