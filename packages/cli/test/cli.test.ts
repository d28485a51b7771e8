import { mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { run } from '../src/main.ts';

let folder: string;
beforeAll(() => void (folder = mkdtempSync(join(tmpdir(), 'ypsigraph-cli-'))));
afterAll(() => rmSync(folder, { recursive: true, force: true }));

const file = (name: string): string => join(folder, name);

async function ypsigraph(...args: string[]): Promise<{ code: number; out: string; err: string }> {
  let out = '';
  let err = '';
  const code = await run(args, { out: (text) => (out += text), err: (text) => (err += text) });
  return { code, out, err };
}

describe('ypsigraph exemplar and measure', () => {
  test('a walk that is made is measured; --json prints one object and nothing else', async () => {
    expect(
      (await ypsigraph('exemplar', 'walk', '--set', 'length=32', '--set', 'loop=follow', '-o', file('walk.bvh'))).code,
    ).toBe(0);
    const { code, out, err } = await ypsigraph(
      'measure',
      file('walk.bvh'),
      '--kind',
      'walk',
      '--first-frame',
      '0',
      '--json',
    );
    expect([code, err]).toEqual([0, '']);
    const report = JSON.parse(out) as Record<string, unknown>;
    expect(Object.keys(report)).toEqual([
      'file',
      'format',
      'fps',
      'frames',
      'firstFrame',
      'loop',
      'up',
      'forward',
      'scale',
      'roles',
      'readings',
      'unmade',
      'warnings',
      'findings',
      'unjudged',
      'judged',
    ]);
    expect(report).toMatchObject({
      format: 'bvh',
      fps: 24,
      frames: 32,
      firstFrame: 0,
      loop: 'follow',
      up: '+Y',
      forward: '+Z',
      warnings: [],
    });
    expect(report.roles).toMatchObject({ hips: 'hips', 'hand.L': 'hand.L' });
    expect(report.readings).toContainEqual(expect.objectContaining({ id: 'cycle.length', value: 32, unit: 'frames' }));
  });

  test('a fault put in comes out, by the label of its frame; without --json as sentences', async () => {
    await ypsigraph('exemplar', 'walk', '--fault', 'pop=26', '-o', file('pop.bvh'));
    const { out } = await ypsigraph('measure', file('pop.bvh'), '--kind', 'walk');
    expect(out).toMatch(
      /^73 gauges judged: 1 outside; 0 could not be judged\n1\. The right forearm is out of place for one frame, by 26°, at frame 9\. /,
    );
    expect(out).toContain('frames 1–25 at 24 a second, a loop whose last frame repeats the first');
  });

  test('--joint adds that joint’s readings under its name', async () => {
    await ypsigraph('exemplar', 'walk', '-o', file('plain.bvh'));
    const { out } = await ypsigraph('measure', file('plain.bvh'), '--joint', 'toe.L', '--joint', 'nobody', '--json');
    const report = JSON.parse(out) as {
      readings: { id: string; part?: string }[];
      unmade: { part?: string; why: string }[];
    };
    const ids = new Set(report.readings.filter(({ part }) => part === 'toe.L').map(({ id }) => id));
    for (const id of ['spacing.steps', 'spacing.off', 'arc.off', 'arc.pop', 'move.frames', 'ease.out', 'cause.share'])
      expect(ids).toContain(id);
    expect(report.unmade.find(({ part }) => part === 'nobody')!.why).toContain('no joint called');
  });

  test('--from and --to are the labels of a move, and a move beyond the shot is not made', async () => {
    const rise = async (from: string, to: string) => {
      const { out } = await ypsigraph(
        'measure',
        file('plain.bvh'),
        '--joint',
        'hand.L',
        '--from',
        from,
        '--to',
        to,
        '--json',
      );
      const report = JSON.parse(out) as {
        readings: { id: string; detail: object }[];
        unmade: { id: string; part?: string; why: string }[];
      };
      return (
        report.readings.find(({ id }) => id === 'arc.rise')?.detail ??
        report.unmade.find(({ id, part }) => id === 'arc.rise' && part === 'hand.L')?.why
      );
    };
    expect(await rise('3', '15')).toEqual({ from: 3, to: 15, flat: false });
    expect(await rise('3', '99')).toContain('within the shot');
  });

  test('corrected roles are read from a file', async () => {
    writeFileSync(file('roles.json'), JSON.stringify({ head: 'neck' }));
    await ypsigraph('exemplar', 'walk', '-o', file('plain.bvh'));
    const { out } = await ypsigraph('measure', file('plain.bvh'), '--roles', file('roles.json'), '--json');
    expect(JSON.parse(out).roles.head).toBe('neck');
  });

  test('what the file is odd about goes to the warnings', async () => {
    const text = readFileSync(file('plain.bvh'), 'utf8').replace('Frames: 25', 'Frames: 30');
    writeFileSync(file('odd.bvh'), text);
    const { out, err } = await ypsigraph('measure', file('odd.bvh'), '--json');
    expect([err, JSON.parse(out).warnings]).toEqual(['', [expect.stringContaining('declares 30 frames and holds 25')]]);
  });
});

describe('a file that can’t be read is one line on standard error, and exit 1', () => {
  test.each([
    ['not there', () => undefined, /no such file/],
    ['not a motion', () => 'Dear Ottoline', /broken\.bvh: line 1: expected the word HIERARCHY/],
    ['cut', () => readFileSync(file('plain.bvh'), 'utf8').slice(0, 9000), /line \d+: expected 72 numbers/],
  ])('%s', async (_, content, message) => {
    rmSync(file('broken.bvh'), { force: true });
    const text = content();
    if (text !== undefined) writeFileSync(file('broken.bvh'), text);
    const { code, out, err } = await ypsigraph('measure', file('broken.bvh'), '--json');
    expect([code, out]).toEqual([1, '']);
    expect(err).toMatch(message);
    expect(err.trim().split('\n')).toHaveLength(1);
  });
});

describe('ypsigraph favour, chart and --chain', () => {
  test('a breakdown is told whole and per part', async () => {
    const { out, code } = await ypsigraph('favour', file('plain.bvh'), '--a', '1', '--at', '7', '--b', '13', '--json');
    expect(code).toBe(0);
    const { readings } = JSON.parse(out) as { readings: { id: string; part?: string; value: number }[] };
    expect(readings.filter(({ id }) => id === 'breakdown.favour').map(({ part }) => part)).toEqual(
      expect.arrayContaining([undefined, 'hips', 'arm.L', 'leg.R']),
    );
    expect((await ypsigraph('favour', file('plain.bvh'), '--a', '1', '--at', '7', '--b', '13')).out).toContain(
      'favours the pose at 1 by',
    );
  });

  test('a chart has a fraction a frame', async () => {
    const { out } = await ypsigraph(
      'chart',
      file('plain.bvh'),
      '--a',
      '1',
      '--b',
      '13',
      '--joint',
      'foreArm.L',
      '--json',
    );
    const [reading] = JSON.parse(out).readings;
    expect(reading).toMatchObject({ id: 'chart.fractions', part: 'foreArm.L' });
    expect(reading.detail.fractions).toHaveLength(13);
    expect([reading.detail.fractions[0], reading.detail.fractions[12]]).toEqual([0, 1]);
  });

  test('the lags of a chain are asked for by name', async () => {
    const { out } = await ypsigraph(
      'measure',
      file('plain.bvh'),
      '--chain',
      'upperArm.L,foreArm.L,hand.L',
      '--chain',
      'a,b',
      '--json',
    );
    const report = JSON.parse(out);
    const found = report.readings.find(
      ({ part, id }: { part: string; id: string }) => id === 'lag.frames' && part === 'upperArm.L,foreArm.L,hand.L',
    );
    expect(found.detail.links.map(({ child }: { child: string }) => child)).toEqual(['foreArm.L', 'hand.L']);
    expect(report.unmade.find(({ part }: { part: string }) => part === 'a,b').why).toContain('no joint called');
  });

  test('frames that are not in the shot are said so', async () => {
    const { out } = await ypsigraph('favour', file('plain.bvh'), '--a', '1', '--at', '7', '--b', '99');
    expect(out).toContain('frame 99 is not in the shot, which has 1 to 25');
  });
});

describe('every kind of exercise', () => {
  test.each([
    ['run', 'run', 'bigBob=9', /^1\. The hips go up and down by 17 % of a leg, which is a lot/m],
    ['steps', 'walk', 'slide=5', /^1\. The (left|right) foot slides by 5\.\d % of a leg/m],
    ['jump', 'jump', 'floats=0.5', /^1\. The body floats: it falls at 0\.5 of gravity/m],
    ['take', 'take', 'shortLook=9', /^1\. The look to the left from 13 to 15 lasts 2 frames/m],
    ['turn', 'turn', 'deadHold=1', /^1\. Nothing moves in the hold of the head from 18 to 32: it is dead/m],
    ['overlap', 'overlap', 'stray=5', /^1\. The master should be still and moves by 2\.5 % of its height/m],
    ['lean', 'overlap', 'noDelay=1', /^1\. The spine moves as one piece/m],
    ['idle', 'idle', 'panting=3', /^1\. A breath takes 16 frames/m],
  ])('%s is made faultless, and with a fault that is named first', async (name, kind, fault, said) => {
    expect((await ypsigraph('exemplar', name, '-o', file(`${name}.bvh`))).code).toBe(0);
    const { out } = await ypsigraph('measure', file(`${name}.bvh`), '--kind', kind);
    expect(out).toMatch(/^\d+ gauges judged: 0 outside/);
    await ypsigraph('exemplar', name, '--fault', fault, '-o', file('faulty.bvh'));
    expect((await ypsigraph('measure', file('faulty.bvh'), '--kind', kind)).out).toMatch(said);
  });

  test('ground, still joints and groups can be told', async () => {
    const kinds = async (...args: string[]): Promise<{ readings: { id: string; part?: string }[] }> =>
      JSON.parse((await ypsigraph('measure', ...args, '--json')).out);
    const flat = await kinds(file('steps.bvh'), '--kind', 'walk', '--ground', 'flat');
    expect(flat.readings.some(({ id }) => id === 'gait.depth')).toBe(true);
    const still = await kinds(file('take.bvh'), '--kind', 'take', '--still', 'foot.L');
    expect(still.readings.filter(({ id }) => id === 'stray.motion').map(({ part }) => part)).toEqual([
      'foot.L',
      'foot.L',
    ]);
    const clash = await kinds(file('take.bvh'), '--kind', 'take', '--group', 'upperArm.L', '--group', 'upperArm.R');
    expect(clash.readings.some(({ id }) => id === 'attention.clash')).toBe(true);
  });

  test('what there is to measure can be listed', async () => {
    const { out } = await ypsigraph('readings');
    expect(out).toMatch(/fall against gravity +jump\.gravity +ratio +jump any; needs feet that leave the ground/);
    expect(JSON.parse((await ypsigraph('readings', '--json')).out)).toContainEqual(
      expect.objectContaining({
        id: 'gait.slide',
        name: 'foot slide',
        unit: '%L',
        topic: 'gait',
        kinds: ['walk', 'run', 'jump', 'take', 'turn', 'idle', 'any'],
      }),
    );
  });
});

describe('what the gauges say', () => {
  interface Told {
    readonly findings: {
      reading: string;
      part?: string;
      judgement: string;
      distance: number;
      say: string;
      also?: string[];
    }[];
    readonly unjudged: { reading: string; part?: string; why: string }[];
    readonly judged: number;
  }
  const judge = async (...args: string[]): Promise<Told> =>
    JSON.parse((await ypsigraph('measure', ...args, '--json')).out);

  test('findings, what could not be judged, and how many gauges were, in one object', async () => {
    await ypsigraph('exemplar', 'walk', '--fault', 'slide=5', '-o', file('slide.bvh'));
    const { findings, unjudged, judged } = await judge(file('slide.bvh'), '--kind', 'walk');
    expect(findings.map(({ reading, part, judgement }) => [reading, part, judgement])).toEqual([
      ['gait.slide', 'leg.L', 'outside'],
    ]);
    expect(findings[0]!.distance).toBeGreaterThan(2.5);
    expect(findings[0]!.say).toMatch(/slides by/);
    expect([unjudged, judged]).toEqual([[], 73]);
  });

  test('a gauge waits for its stage', async () => {
    const { findings, judged } = await judge(file('slide.bvh'), '--kind', 'walk', '--stage', 'blocking');
    expect(findings).toEqual([]);
    expect(judged).toBeLessThan(21);
  });

  test('what could not be judged is said, each reason once', async () => {
    const { unjudged, judged } = await judge(file('overlap.bvh'), '--kind', 'walk');
    expect(unjudged.length).toBeGreaterThan(8);
    expect(judged).toBeLessThan(9);
    const { out } = await ypsigraph('measure', file('overlap.bvh'), '--kind', 'walk');
    expect(out.split('\n')[0]).toMatch(/could not be judged$/);
    const reasons = out.split('\n').filter((line) => line.startsWith('not judged: '));
    expect(new Set(reasons.map((line) => line.split(' (')[0])).size).toBe(reasons.length);
    expect(reasons.join()).toContain('hips, foot.L, foot.R');
  });

  test('of no kind in particular nothing is expected', async () => {
    expect(await judge(file('slide.bvh'))).toMatchObject({ findings: [], unjudged: [], judged: 0 });
  });
});

describe('ypsigraph compare', () => {
  test('maps frames, lists what changed, and names what broke', async () => {
    await ypsigraph('exemplar', 'walk', '--fault', 'slide=6', '-o', file('first.bvh'));
    await ypsigraph('exemplar', 'walk', '--fault', 'kneePop=1', '--set', 'length=30', '-o', file('second.bvh'));
    const args = ['compare', file('first.bvh'), file('second.bvh'), '--kind', 'walk'];
    const { map, changes, regressions } = JSON.parse((await ypsigraph(...args, '--json')).out);
    expect(map).toHaveLength(25);
    expect([map[0], map[24]]).toEqual([
      [1, 1],
      [25, 31],
    ]);
    expect(Math.abs(map[12][1] - 16)).toBeLessThan(1);
    expect(changes).toContainEqual(expect.objectContaining({ id: 'cycle.length', before: 24, after: 30 }));
    expect(regressions.map(({ id }: { id: string }) => id)).toEqual(['gait.knee', 'gait.knee']);
    const { out } = await ypsigraph(...args);
    expect(out).toContain('inside its band before, outside now:');
    expect(out).toContain('1. Knee snap of the left leg was 0 and is 1 frame. Knees never');
    expect(out).toContain('length of the cycle');
    expect(out).not.toMatch(/not there [a-z]/);
    expect(out).toMatch(/frames: 1→1 .* 25→31/);
  });

  test('a shot and itself differ in nothing', async () => {
    const { out } = await ypsigraph('compare', file('first.bvh'), file('first.bvh'), '--kind', 'walk');
    expect(out).toContain('nothing that was inside its band is outside now');
    expect(out).toContain('no reading has changed');
  });

  test('two that have nothing in common are still measured, with a warning', async () => {
    const { out, code } = await ypsigraph('compare', file('first.bvh'), file('overlap.bvh'));
    expect(code).toBe(0);
    expect(out).toContain("warning: the frames can't be matched");
  });
});

test.each([
  [['compare', 'x.bvh']],
  [['measure', 'x.bvh', '--ground', 'ice']],
  [['favour', 'x.bvh', '--a', '1', '--b', '3']],
  [['chart', 'x.bvh', '--a', 'one', '--b', '3']],
  [['measure']],
  [['measure', 'x.bvh', '--kind', 'somersault']],
  [['measure', 'x.bvh', '--fps', '0']],
  [['measure', 'x.bvh', '--first-frame', '1.5']],
  [['exemplar', 'somersault', '-o', 'x.bvh']],
  [['exemplar', 'walk']],
  [['exemplar', 'walk', '--set', 'length', '-o', 'x.bvh']],
  [['exemplar', 'walk', '--set', 'length=short', '-o', 'x.bvh']],
  [['exemplar', 'walk', '--set', 'height=3', '-o', 'x.bvh']],
  [['exemplar', 'walk', '--set', 'length=3', '-o', 'x.bvh']],
  [['exemplar', 'walk', '--set', 'loop=round', '-o', 'x.bvh']],
  [['exemplar', 'walk', '--fault', 'limp=1', '-o', 'x.bvh']],
  [['dance']],
])('wrong usage is exit 2, said on standard error: %j', async (args) => {
  const { code, out, err } = await ypsigraph(...args);
  expect(code).toBe(2);
  expect(out).toBe('');
  expect(err.length).toBeGreaterThan(10);
});

describe('ypsigraph measure of points', () => {
  const table = (rows: readonly string[]): string => ['frame,point,x,y', ...rows].join('\n');
  const falling = Array.from({ length: 12 }, (_, f) => `${f + 1},hat,${10 * f},${f * f}\n${f + 1},lid,0,${f % 4}`);

  test('a table of points followed on pictures is measured like a motion; pairs are asked for by name', async () => {
    writeFileSync(file('points.csv'), table(falling));
    const { code, out, err } = await ypsigraph(
      'measure',
      file('points.csv'),
      '--fps',
      '24',
      '--pair',
      'hat,lid',
      '--joint',
      'hat',
      '--json',
    );
    expect([code, err]).toEqual([0, '']);
    const told = JSON.parse(out) as { format: string; frames: number; readings: { id: string; part?: string }[] };
    expect(told).toMatchObject({ format: 'points', frames: 12, firstFrame: 1, fps: 24 });
    const ids = told.readings.map(({ id, part }) => `${id} ${part ?? ''}`);
    expect(ids).toEqual(expect.arrayContaining(['spacing.off hat', 'pair.length hat, lid', 'track.sure lid']));
  });

  test('without a rate it is wrong usage; a line that can’t be read is named; a motion has no pairs', async () => {
    const rateless = await ypsigraph('measure', file('points.csv'));
    expect(rateless.code).toBe(2);
    expect(rateless.err).toMatch(/--fps is needed/);
    writeFileSync(file('bad.csv'), table(['1,hat,zero,0']));
    const { code, err } = await ypsigraph('measure', file('bad.csv'), '--fps', '24');
    expect([code, err.trim()]).toEqual([1, `${file('bad.csv')}: line 2: expected a number for x, found “zero”`]);
    expect((await ypsigraph('measure', file('walk.bvh'), '--pair', 'a,b')).code).toBe(2);
    expect((await ypsigraph('measure', file('points.csv'), '--fps', '24', '--pair', 'a')).code).toBe(2);
  });
});

describe('ypsigraph measure with a plan', () => {
  const planned = async (plan: unknown, ...more: string[]): Promise<{ code: number; out: string; err: string }> => {
    writeFileSync(file('plan.json'), typeof plan === 'string' ? plan : JSON.stringify(plan));
    return ypsigraph('measure', file('slow.bvh'), '--kind', 'walk', '--plan', file('plan.json'), ...more);
  };
  beforeAll(async () => {
    await ypsigraph('exemplar', 'walk', '--set', 'length=32', '-o', file('slow.bvh'));
  });

  test('says of each pose how much later it comes, and judges it', async () => {
    const plan = [
      { name: 'contact', frame: 1, tolerance: 1 },
      { name: 'contact', frame: 13, tolerance: 1 },
      { name: 'passing', share: 50, tolerance: 1 },
    ];
    const { code, out } = await planned(plan, '--json', '--stage', 'blocking');
    expect(code).toBe(0);
    const { readings, findings } = JSON.parse(out) as Record<'readings' | 'findings', Record<string, unknown>[]>;
    expect(readings.filter(({ id }) => id === 'plan.frame').map(({ part, value }) => [part, value])).toEqual([
      ['contact', 0],
      ['contact', 4],
      ['passing', 0],
      ['passing', 0],
    ]);
    expect(readings.find(({ id }) => id === 'plan.missing')).toMatchObject({ value: 'none' });
    expect(findings[0]).toMatchObject({ reading: 'plan.frame', part: 'contact', judgement: 'outside' });
    const text = (await planned(plan, '--stage', 'blocking')).out;
    expect(text).toContain('The contact planned at 13 comes 4 frames late, at 17');
    expect(text).toMatch(/plan:\n {2}the contact stands at 1, as planned/);
  });

  test.each<[string, unknown, RegExp]>([
    ['no list', { name: 'contact' }, /expected a list/],
    ['no JSON', '[', /is not JSON/],
    ['no name', [{ frame: 3, tolerance: 1 }], /pose 1: a name is needed/],
    ['neither frame nor share', [{ name: 'up', tolerance: 1 }], /at a frame, or at a share/],
    ['no tolerance', [{ name: 'up', frame: 3 }], /tolerance is needed/],
    ['a leg that is none', [{ name: 'up', frame: 3, tolerance: 1, part: 'tail' }], /leg\.L or leg\.R/],
    ['a pose nobody knows', [{ name: 'leap', frame: 3, tolerance: 1 }], /“leap” is no pose that is known by name/],
  ])('a plan with %s is refused and says what is wrong', async (_, plan, says) => {
    const { code, err } = await planned(plan);
    expect(code).toBe(2);
    expect(err).toMatch(says);
  });

  test('up is what it is said to be', async () => {
    const { out } = await ypsigraph('measure', file('slow.bvh'), '--up', '+Z', '--json');
    expect(JSON.parse(out)).toMatchObject({ up: '+Z' });
    expect((await ypsigraph('measure', file('slow.bvh'), '--up', 'high')).code).toBe(2);
  });

  test('points in a row tell their delays', async () => {
    const rows = Array.from({ length: 72 }, (_, f) => {
      let [x, y, turn] = [100, 100, 0];
      return Array.from({ length: 5 }, (_u, k) => {
        const line = `${f + 1},pennant ${k + 1},${x.toFixed(3)},${y.toFixed(3)}`;
        turn += 0.2 * Math.sin((2 * Math.PI * (f - 2 * k)) / 24);
        [x, y] = [x + 30 * Math.sin(turn), y + 30 * Math.cos(turn)];
        return line;
      });
    });
    writeFileSync(file('rope.csv'), `frame,point,x,y\n${rows.flat().join('\n')}\n`);
    const names = [1, 2, 3, 4, 5].map((k) => `pennant ${k}`).join(',');
    const { out } = await ypsigraph(
      'measure',
      file('rope.csv'),
      '--fps',
      '24',
      '--kind',
      'overlap',
      '--chain',
      names,
      '--json',
    );
    const { readings } = JSON.parse(out) as { readings: { id: string; part?: string; value: number }[] };
    const lag = readings.find(({ id, part }) => id === 'lag.frames' && part === 'chain:pennant 1');
    expect(lag!.value).toBeCloseTo(2, 1);
  });
});

describe('ypsigraph remedy', () => {
  interface Told {
    readonly reading: string;
    readonly part?: string;
    readonly judgement: string;
  }
  interface Cured {
    readonly recipe: readonly { remedy: string; parameters: Record<string, string | number> }[];
    readonly touched: { readonly joints: readonly string[]; readonly frames: readonly number[] };
    readonly map?: readonly number[];
    readonly before: readonly { id: string; part?: string; value: unknown }[];
    readonly after: readonly { id: string; part?: string; value: unknown }[];
    readonly gone: readonly Told[];
    readonly fresh: readonly Told[];
    readonly left: readonly Told[];
  }
  const cured = async (...args: string[]): Promise<Cured> => {
    const { code, out, err } = await ypsigraph('remedy', ...args, '--json');
    expect([code, err]).toEqual([0, '']);
    return JSON.parse(out) as Cured;
  };
  const walk = async (name: string, ...faults: string[]): Promise<string> => {
    await ypsigraph('exemplar', 'walk', ...faults.flatMap((fault) => ['--fault', fault]), '-o', file(name));
    return file(name);
  };

  test('does what it is told, in that order, and says which frames and joints it changed', async () => {
    const bvh = await walk('held.bvh');
    const out = file('held-longer.bvh');
    const told = await cured(
      bvh,
      '--do',
      'hold:at=12,frames=4',
      '--do',
      'amount:quantity=pitch,of=head,by=-10',
      '-o',
      out,
    );
    expect(told.map!.slice(10, 17)).toEqual([11, 12, 12, 12, 12, 12, 13]);
    expect(told.touched.joints).toEqual(['head']);
    const again = JSON.parse((await ypsigraph('measure', out, '--json')).out) as { frames: number };
    expect(again.frames).toBe(29);
    const none = await cured(bvh, '--do', 'delay:chain=arm.L,frames=0');
    expect(none.touched).toEqual({ joints: [], frames: [] });
  });

  test('what is proposed for a finding takes it away in the file that is written', async () => {
    const bvh = await walk('slides.bvh', 'slide=6');
    const out = file('planted.bvh');
    const told = await cured(bvh, '--for', 'gait.slide', '--kind', 'walk', '-o', out);
    expect(told.gone.map(({ reading }) => reading)).toContain('gait.slide');
    expect(told.fresh.filter(({ judgement }) => judgement === 'outside')).toEqual([]);
    const again = JSON.parse((await ypsigraph('measure', out, '--kind', 'walk', '--json')).out) as { findings: Told[] };
    expect(again.findings.filter(({ reading }) => reading === 'gait.slide')).toEqual([]);
  });

  test('all of it: several faults, heaviest first, as long as nothing breaks', async () => {
    const bvh = await walk('many.bvh', 'headHangs=35', 'bigArms=1.2', 'pop=18');
    const told = await cured(bvh, '--all', '--kind', 'walk');
    expect(told.gone.length).toBeGreaterThanOrEqual(3);
    expect([...told.left, ...told.fresh].filter(({ judgement }) => judgement === 'outside')).toEqual([]);
    const { out } = await ypsigraph('remedy', bvh, '--all', '--kind', 'walk');
    expect(out).toMatch(/^made: /);
    expect(out).toMatch(/gone:\n/);
  });

  test('a recording whose feet slide is planted: what they slide by falls to a tenth', async () => {
    const bvh = '/usr/share/assimp/models/BVH/01_03.bvh';
    const told = await cured(bvh, '--do', 'plant:foot=both', '-o', file('planted-recording.bvh'));
    const mean = (list: Cured['before']): number => {
      const slides = list.filter(({ id }) => id === 'gait.slide').map(({ value }) => value as number);
      return slides.reduce((sum, own) => sum + own, 0) / slides.length;
    };
    expect(mean(told.before)).toBeGreaterThan(3);
    expect(mean(told.after)).toBeLessThan(0.1 * mean(told.before));
  });

  test.each<[string[], RegExp, number]>([
    [['--do', 'hold:at=99,frames=2'], /^frame 99 is not in the shot: it has 1 to 25\n$/, 1],
    [['--do', 'juggle:a=1'], /^there is no remedy “juggle”: there are hold, .*\n$/, 1],
    [['--do', 'hold:at=4,frames=9999'], /^hold: frames lies between -500 and 500, not 9999\n$/, 1],
    [['--for', 'size.arm', '--kind', 'walk'], /^there is no finding “size.arm”: nothing is outside its band\n$/, 1],
    [['--do', 'hold:at'], /expected PARAMETER=VALUE/, 2],
    [[], /one of --do, --for and --all is needed/, 2],
    [['--do', 'trim:front=1', '--all'], /one of --do, --for and --all is needed/, 2],
  ])('%s is refused in one line', async (args, why, code) => {
    const bvh = await walk('clean.bvh');
    const told = await ypsigraph('remedy', bvh, ...args, '-o', file('never.bvh'));
    expect([told.code, told.out]).toEqual([code, '']);
    expect(told.err).toMatch(why);
    expect(() => readFileSync(file('never.bvh'))).toThrow();
  });

  test('remedies are listed with what they mend, without ids where people read', async () => {
    const { remedies } = JSON.parse((await ypsigraph('remedies', '--json')).out) as {
      remedies: { id: string; mends: string[] }[];
    };
    expect(remedies.map(({ id }) => id)).toHaveLength(20);
    expect(remedies.find(({ id }) => id === 'plant')!.mends).toContain('gait.slide');
    const { out } = await ypsigraph('remedies');
    expect(out).toMatch(/plant: a foot stands still where it is planted/);
    expect(out).not.toMatch(/gait\.slide/);
  });
});
