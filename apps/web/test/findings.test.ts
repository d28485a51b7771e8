import { walkExemplar } from '@ypsigraph/core/exemplar/walk';
import type { WalkFaults } from '@ypsigraph/core/exemplar/walk-options';
import { judgeShot } from '@ypsigraph/core/gauge/findings';
import { defaultGauges } from '@ypsigraph/core/gauge/gauges';
import { reportShot } from '@ypsigraph/core/measure/report';
import { prepareShot } from '@ypsigraph/core/motion/prepare-shot';
import type { StoredReport } from '@ypsigraph/contract/shots';
import { MotionSource } from '../src/desk/frames/motion-source.ts';
import { measured } from '../src/desk/margin/draft.ts';
import { findingDraft } from '../src/desk/margin/finding-draft.ts';

function first(faults: WalkFaults, firstFrame = 1) {
  const shot = prepareShot(walkExemplar({}, faults), { kind: 'walk', loop: 'repeat', firstFrame });
  const report = reportShot(shot, { file: 'w.bvh', format: 'bvh', warnings: [] });
  const [finding] = judgeShot(defaultGauges('walk'), report, 'polish').findings;
  return measured(findingDraft(finding!, report as StoredReport), new MotionSource(shot));
}

describe('a finding that is taken', () => {
  test.each<[WalkFaults, object, RegExp]>([
    [
      { pop: 26 },
      { kind: 'arc', from: 9, to: 9, point: 'foreArm.R' },
      /^The right forearm is out of place for one frame, by 26°, at frame 9\. One frame/,
    ],
    [
      { slide: 5 },
      { kind: 'spacing', point: 'foot.L' },
      /left foot slides by 5(\.\d)? % of a leg while it stands from \d+ to \d+/,
    ],
    [{ kneePop: 1 }, { kind: 'spacing', from: 23, to: 23, point: 'foot.L' }, /snaps straight at frame 23/],
    [{ bigBob: 6 }, { point: 'hips' }, /up and down by 1\d % of a leg, which is a lot/],
    [{ lowOnContact: 1 }, { kind: 'timing', from: 1, to: 13, point: 'hips' }, /lowest on the contact/],
    [{ noDelay: 1 }, { kind: 'timing', point: 'hand.L' }, /moves as one piece/],
  ])('%j is a mark with its frames, joint and numbers filled in', async (faults, draft, words) => {
    const made = await first(faults);
    expect(made).toMatchObject(draft);
    expect(made.words).toMatch(words);
    expect(made.from).toBeLessThanOrEqual(made.to);
  });

  test('has the labels of the shot', async () => {
    expect(await first({ pop: 26 }, 100)).toMatchObject({ from: 108, to: 108 });
  });
});
