import { Select } from '../../kit/select.tsx';
import { type GhostsAs, type GhostsBy, useDesk } from '../desk-store.ts';
import type { FrameSource } from '../frames/frame-source.ts';
import { MOST_GHOSTS } from '../lenses/ghosts-lens.ts';

const GHOSTS_BY: Readonly<Record<GhostsBy, string>> = {
  frames: 'ghosts by frames',
  twos: 'ghosts on twos',
  poses: 'ghosts by key poses',
};
const GHOSTS_AS: Readonly<Record<GhostsAs, string>> = { blended: 'seen through', lines: 'lines only' };
const EACH_SIDE = Array.from({ length: MOST_GHOSTS }, (_, k) => ({ value: String(k + 1), text: `${k + 1} each side` }));

/** How the lenses that are on are to be drawn, beside what they mean: of ghosts which and how many, of the exemplar where. */
export function LensChoices({ source }: { source: FrameSource }) {
  const lenses = useDesk((state) => state.lenses);
  const ghostsBy = useDesk((state) => state.ghostsBy);
  const ghostCount = useDesk((state) => state.ghostCount);
  const ghostsAs = useDesk((state) => state.ghostsAs);
  const exemplar = useDesk((state) => state.exemplar);
  const { set } = useDesk.getState();
  return (
    <>
      {lenses.has('ghosts') && (
        <>
          <Select
            givesBack
            className="text-xs"
            label="Ghosts by"
            value={ghostsBy}
            options={(Object.keys(GHOSTS_BY) as GhostsBy[]).map((value) => ({ value, text: GHOSTS_BY[value] }))}
            onChange={(value) => set({ ghostsBy: value })}
          />
          <Select
            givesBack
            className="text-xs"
            label="Ghosts on each side"
            value={String(ghostCount)}
            options={EACH_SIDE}
            onChange={(value) => set({ ghostCount: Number(value) })}
          />
          {source.pictures && (
            <Select
              givesBack
              className="text-xs"
              label="Ghosts as"
              value={ghostsAs}
              options={(Object.keys(GHOSTS_AS) as GhostsAs[]).map((value) => ({ value, text: GHOSTS_AS[value] }))}
              onChange={(value) => set({ ghostsAs: value })}
            />
          )}
        </>
      )}
      {lenses.has('reference') && (
        <Select
          givesBack
          className="text-xs"
          label="Where the exemplar is"
          value={exemplar}
          options={[
            { value: 'behind', text: 'exemplar behind' },
            { value: 'beside', text: 'exemplar beside' },
          ]}
          onChange={(value) => set({ exemplar: value })}
        />
      )}
    </>
  );
}
