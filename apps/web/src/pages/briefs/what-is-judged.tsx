import type { Gauge, ReadingValues } from '@ypsigraph/contract/briefs';
import { STEP_TIME } from '@ypsigraph/core/measure/gait/gait-timing';
import { splitCharacter } from '@ypsigraph/core/measure/characters';
import type { Reading } from '@ypsigraph/core/measure/reading';
import { readingKind, readingName } from '@ypsigraph/core/measure/registry';
import { partName } from '@ypsigraph/core/say/part-names';
import { Select } from '../../kit/select.tsx';

interface Props {
  readonly gauge: Gauge;
  readonly exemplar: readonly Reading[];
  readonly values: ReadingValues | undefined;
  readonly onChange: (gauge: Gauge) => void;
}

const EVERY = 'every part';
const FRAMES = 'frames';
const SHARES = ['step', 'cycle', 'move'] as const;
/** Links that are offered where the exemplar has no such chain. */
const USUAL_LINKS = 6;

/** What of its reading a gauge judges: of which part, its value or a number beside it or a link of its chain, in frames or as a share. */
export function WhatIsJudged({ gauge, exemplar, values, onChange }: Props) {
  const { reading, part, of, link, per, band } = gauge;
  const { numbers = {}, time, ofLink } = readingKind(reading)!;
  const name = readingName(reading);
  const parts = partsOf(gauge, exemplar, values);
  const links = ofLink === undefined ? 0 : linksOf(gauge, exemplar);
  const judged = [
    { value: 'value', text: 'its value' },
    ...Object.entries(numbers).map(([key, number]) => ({ value: `of ${key}`, text: number.name })),
    ...Array.from({ length: links }, (_, k) => ({ value: `link ${k + 1}`, text: `link ${k + 1} of the chain` })),
  ];
  const choose = (value: string): void => {
    const { of: _of, link: _link, per: _per, ...rest } = gauge;
    const [what, which = ''] = value.split(' ');
    onChange({ ...rest, ...(what === 'of' && { of: which }), ...(what === 'link' && { link: Number(which) }) });
  };
  const share = (unit: string): void => {
    const { per: _per, ...rest } = gauge;
    const frames = (own: Gauge['per']): number => (own === undefined ? 100 : wholeOf(own, exemplar));
    const next = SHARES.find((own) => own === unit);
    const scale = frames(per) / frames(next);
    onChange({
      ...rest,
      ...(next && { per: next }),
      ...(band && { band: [rounded(band[0] * scale), rounded(band[1] * scale)] }),
    });
  };
  const isTime = time === true && of === undefined && band !== undefined;
  if (parts.length < 2 && judged.length < 2 && !isTime) return null;
  return (
    <div className="mt-1 flex flex-wrap gap-2">
      {parts.length > 1 && (
        <Select
          label={`Part of ${name}`}
          className="text-xs"
          value={part ?? EVERY}
          onChange={(own) => {
            const { part: _part, ...rest } = gauge;
            onChange(own === EVERY ? rest : { ...rest, part: own });
          }}
          options={parts.map((own) => ({ value: own, text: PARTS[own] ?? partName(own) }))}
        />
      )}
      {judged.length > 1 && (
        <Select
          label={`What of ${name} is judged`}
          className="text-xs"
          value={of !== undefined ? `of ${of}` : link !== undefined ? `link ${link}` : 'value'}
          onChange={choose}
          options={judged}
        />
      )}
      {isTime && (
        <Select
          label={`Unit of ${name}`}
          className="text-xs"
          value={per ?? FRAMES}
          onChange={share}
          options={[
            { value: FRAMES, text: 'in frames' },
            ...SHARES.map((own) => ({ value: own, text: `in % of the ${own}` })),
          ]}
        />
      )}
    </div>
  );
}

const PARTS: Readonly<Record<string, string>> = {
  [EVERY]: EVERY,
  none: 'the whole body',
  'chain:*': 'every chain',
};

const rounded = (value: number): number => Number(value.toPrecision(3));

/** Parts that a reading is told of: by the exemplar, by the shots there are, and by the gauge itself. */
function partsOf({ reading, part }: Gauge, exemplar: readonly Reading[], values: ReadingValues | undefined): string[] {
  const told = [...exemplar, ...(values?.shots.flatMap(({ readings }) => readings) ?? [])].filter(
    ({ id }) => id === reading,
  );
  const own = new Set(told.map((one) => splitCharacter(one.part).part ?? 'none'));
  if ([...own].some((one) => one.startsWith('chain:'))) own.add('chain:*');
  if (part !== undefined) own.add(part);
  return own.size < 2 && part === undefined ? [] : [EVERY, ...[...own].sort()];
}

/** How many links the longest chain of a reading has. */
function linksOf({ reading, link = 0 }: Gauge, exemplar: readonly Reading[]): number {
  const lengths = exemplar
    .filter(({ id }) => id === reading)
    .map(({ detail }) => ((detail as { links?: readonly unknown[] } | undefined)?.links ?? []).length);
  return Math.max(link, lengths.length > 0 ? Math.max(...lengths) : USUAL_LINKS);
}

/** Frames of what a band is a share of, in the exemplar; of a walk on twelves without one. */
function wholeOf(per: (typeof SHARES)[number], exemplar: readonly Reading[]): number {
  const step = STEP_TIME.among(exemplar)[0]?.value ?? 12;
  return per === 'cycle' ? 2 * step : step;
}
