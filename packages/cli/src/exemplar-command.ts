import { writeFile } from 'node:fs/promises';
import { Command } from 'commander';
import { EXEMPLARS } from '@ypsigraph/core/exemplar/exemplars';
import { puppetFile } from '@ypsigraph/core/exemplar/puppet';
import { prepareShot } from '@ypsigraph/core/motion/prepare-shot';
import { writeShot } from '@ypsigraph/core/formats/write-shot';
import { collect } from './open-shot.ts';
import type { Output } from './output.ts';
import { UsageError } from './usage-error.ts';

interface Options {
  set: string[];
  fault: string[];
  output: string;
}

/** `ypsigraph exemplar KIND`. */
export const exemplarCommand = (output: Output): Command =>
  new Command('exemplar')
    .description('make a motion of a kind, faultless or with faults of a chosen size')
    .argument('<kind>', `one of: ${Object.keys(EXEMPLARS).join(', ')}`)
    .option('--set <name=value>', 'change how it is made (may be given again)', collect, [])
    .option('--fault <name=value>', 'put a fault in (may be given again)', collect, [])
    .requiredOption(
      '-o, --output <file>',
      'file to write: BVH, glTF where it is called .glb, a Lottie puppet where it is called .json',
    )
    .action(async (kind: string, options: Options) => {
      const exemplar = EXEMPLARS[kind];
      if (!exemplar)
        throw new UsageError(`there is no exemplar “${kind}”; there is: ${Object.keys(EXEMPLARS).join(', ')}`);
      const set: Record<string, unknown> = {};
      for (const [name, text] of options.set.map(pair)) {
        const standard = exemplar.defaults[name];
        if (standard === undefined) throw unknown('setting', name, Object.keys(exemplar.defaults));
        set[name] = typeof standard === 'number' ? number(name, text) : text;
        if (name === 'loop' && text !== 'repeat' && text !== 'follow')
          throw new UsageError('loop: expected repeat or follow');
      }
      const faults: Record<string, number> = {};
      for (const [name, text] of options.fault.map(pair)) {
        if (!exemplar.faults.includes(name)) throw unknown('fault', name, exemplar.faults);
        faults[name] = number(name, text);
      }
      const motion = exemplar.make(set, faults);
      const shot = prepareShot(motion, { kind: exemplar.kind });
      const isPuppet = options.output.toLowerCase().endsWith('.json');
      await writeFile(options.output, isPuppet ? puppetFile(shot) : await writeShot(shot, options.output));
      output.out(`${options.output}: ${motion.frames} frames at ${motion.fps} fps\n`);
    });

function pair(text: string): [string, string] {
  const at = text.indexOf('=');
  if (at < 1) throw new UsageError(`expected name=value, found “${text}”`);
  return [text.slice(0, at), text.slice(at + 1)];
}

function number(name: string, text: string): number {
  const value = Number(text);
  if (text.trim() === '' || !Number.isFinite(value))
    throw new UsageError(`${name}: expected a number, found “${text}”`);
  return value;
}

const unknown = (what: string, name: string, names: readonly string[]): UsageError =>
  new UsageError(`there is no ${what} “${name}”; there are: ${names.join(', ')}`);
