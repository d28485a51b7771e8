import { walkExemplar } from '@ypsigraph/core/exemplar/walk';
import type { WalkFaults } from '@ypsigraph/core/exemplar/walk-options';
import { findings, verdicts } from '@ypsigraph/core/gauge/gauge';
import { WALK_GAUGES } from '@ypsigraph/core/gauge/walk-gauges';
import { reportShot } from '@ypsigraph/core/measure/report';
import { prepareShot } from '@ypsigraph/core/motion/prepared-shot';
import type { StoredReport } from '@ypsigraph/contract/shots';
import { findingDraft } from '../src/desk/margin/finding-draft.ts';

function first(faults: WalkFaults, firstFrame = 1) {
  const shot = prepareShot(walkExemplar({}, faults), { kind: 'walk', loop: 'repeat', firstFrame });
  const report = reportShot(shot, { file: 'w.bvh', format: 'bvh', warnings: [] });
  const [finding] = findings(verdicts(WALK_GAUGES, report, 'polish'));
  return findingDraft(finding!, report as StoredReport);
}

describe('a finding that is taken', () => {
  test.each<[WalkFaults, object, RegExp]>([
    [{ pop: 26 }, { kind: 'arc', from: 9, to: 9, joint: 'hand.R' }, /^The right hand pops at frame 9\. One frame/],
    [{ slide: 5 }, { kind: 'spacing', joint: 'foot.L' }, /slides 5(\.\d+)? %L between frames \d+ and \d+/],
    [{ kneePop: 1 }, { kind: 'note', from: 23, to: 23, joint: 'foot.L' }, /snaps straight at frame 23/],
    [{ bigBob: 6 }, { joint: 'hips' }, /up and down by 10\.5 %L/],
    [{ lowOnContact: 1 }, { kind: 'timing', from: 1, to: 25, joint: 'hips' }, /lowest on the contact/],
    [{ noDelay: 1 }, { kind: 'timing', joint: 'hand.L' }, /moves as one piece/],
  ])('%j is a mark with its frames, joint and numbers filled in', (faults, draft, words) => {
    const made = first(faults);
    expect(made).toMatchObject(draft);
    expect(made.words).toMatch(words);
    expect(made.from).toBeLessThanOrEqual(made.to);
  });

  test('has the labels of the shot', () => {
    expect(first({ pop: 26 }, 100)).toMatchObject({ from: 108, to: 108 });
  });
});
