import { Command } from 'commander';
import { CATALOGUE, TOPICS } from '@ypsigraph/core/measure/catalogue';
import { KINDS } from '@ypsigraph/core/motion/prepared-shot';
import type { Output } from './output.ts';

/** `ypsigraph readings`: what there is to measure. */
export const readingsCommand = (output: Output): Command =>
  new Command('readings')
    .description(
      'list every reading: its name and id, its unit, what it needs, and the kinds of exercise it is made for',
    )
    .option('--json', 'print one JSON array')
    .action((options: { json?: boolean }) => {
      if (options.json) {
        output.out(`${JSON.stringify(CATALOGUE)}\n`);
        return;
      }
      const width = (of: 'id' | 'name'): number => Math.max(...CATALOGUE.map((entry) => entry[of].length));
      const widths = { id: width('id'), name: width('name') };
      const lines = TOPICS.flatMap((topic) => [
        topic,
        ...CATALOGUE.filter((entry) => entry.topic === topic).map(({ id, name, unit, needs, kinds }) => {
          const made = kinds.length === KINDS.length ? 'every kind' : kinds.length > 0 ? kinds.join(' ') : 'asked for';
          return `  ${name.padEnd(widths.name)}  ${id.padEnd(widths.id)}  ${unit.padEnd(7)}  ${made}; needs ${needs}`;
        }),
        '',
      ]);
      output.out(lines.join('\n'));
    });
