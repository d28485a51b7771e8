import { Select } from '../../kit/select.tsx';
import { type Choice, choose, useChoice } from '../choice.ts';
import { useDesk } from '../desk-store.ts';
import type { FrameSource } from '../frames/frame-source.ts';
import { LENSES } from '../lenses/registry.ts';

/** How the lenses that are on are to be drawn, beside what they mean. */
export function LensChoices({ source }: { source: FrameSource }) {
  const desk = useDesk();
  return LENSES.filter(({ id }) => desk.lenses.has(id))
    .flatMap(({ choices = [] }) => choices)
    .filter(({ offered }) => offered?.(source, desk) ?? true)
    .map((own) => <LensChoice key={own.id} own={own} source={source} />);
}

function LensChoice({ own, source }: { own: Choice; source: FrameSource }) {
  return (
    <Select
      givesBack
      className="text-xs"
      label={own.label}
      value={useChoice(own)}
      options={own.options(source)}
      onChange={(value) => choose(own, value)}
    />
  );
}
