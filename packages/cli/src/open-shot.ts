import { readFileSync } from 'node:fs';
import { readFile } from 'node:fs/promises';
import { basename, dirname, join } from 'node:path';
import { type Command, InvalidArgumentError } from 'commander';
import { FormatError } from '@ypsigraph/core/formats/format-error';
import { type PointsOptions, readPoints } from '@ypsigraph/core/formats/points/read-points';
import { type ReadShot, readShot } from '@ypsigraph/core/formats/read-shot';
import type { ShotOptions } from '@ypsigraph/core/motion/prepared-shot';
import type { PointTracks } from '@ypsigraph/core/motion/point-tracks';
import { isFoundByName, type PlannedPose } from '@ypsigraph/core/trade/planned-pose';
import { UsageError } from './usage-error.ts';

/** Which of the motions in a file is read. */
export interface ReadChoices {
  animation?: string;
  figure?: string;
}

/** The options by which one of several motions in a file is chosen. */
export const withReadOptions = (command: Command): Command =>
  command
    .option('--animation <name>', 'which of several animations: its name or its number, the longest being 1')
    .option('--figure <name>', 'which of several figures');

/**
 * Reads a motion file and makes it ready for measuring. Files that it names are looked for in its own folder, nowhere else.
 * @throws FormatError that names the file, or the file system's own error
 */
export async function openShot(file: string, options: ShotOptions): Promise<ReadShot> {
  const bytes = await readFile(file);
  const beside = (name: string): Uint8Array | undefined => {
    if (name !== basename(name)) return undefined;
    try {
      return readFileSync(join(dirname(file), name));
    } catch {
      return undefined;
    }
  };
  try {
    return await readShot(bytes, options, { beside, ...(options.fps !== undefined && { fps: options.fps }) });
  } catch (error) {
    if (error instanceof FormatError) throw new FormatError(`${file}: ${error.message}`);
    throw error;
  }
}

/**
 * Reads points that were followed on pictures.
 * @throws FormatError that names the file, or the file system's own error
 */
export async function openPoints(file: string, options: PointsOptions): Promise<PointTracks> {
  const text = await readFile(file, 'utf8');
  try {
    return readPoints(text, options);
  } catch (error) {
    if (error instanceof FormatError) throw new FormatError(`${file}: ${error.message}`);
    throw error;
  }
}

/** Corrections of roles from a JSON file: role to joint name, or null for none. */
export async function readRoles(file: string): Promise<Record<string, string | null>> {
  const roles = await readJson(file);
  if (typeof roles !== 'object' || roles === null || Array.isArray(roles)) {
    throw new UsageError(`${file}: expected an object role → joint name`);
  }
  for (const [role, name] of Object.entries(roles)) {
    if (name !== null && typeof name !== 'string') {
      throw new UsageError(`${file}: role ${role}: expected a joint's name or null`);
    }
  }
  return roles as Record<string, string | null>;
}

/** Planned poses from a JSON file: a list of `{ name, frame | share, part?, tolerance, pose? }`. */
export async function readPlan(file: string): Promise<PlannedPose[]> {
  const plan = await readJson(file);
  if (!Array.isArray(plan)) throw new UsageError(`${file}: expected a list of planned poses`);
  return plan.map((pose: unknown, k) => {
    const fault = faultOfPlanned(pose);
    if (fault) throw new UsageError(`${file}: pose ${k + 1}: ${fault}`);
    return pose as PlannedPose;
  });
}

function faultOfPlanned(value: unknown): string | undefined {
  const { name, frame, share, part, tolerance, pose } = (value ?? {}) as Record<string, unknown>;
  const isNumber = (own: unknown): own is number => typeof own === 'number' && Number.isFinite(own);
  if (typeof name !== 'string' || name === '') return 'a name is needed';
  if (isNumber(frame) === isNumber(share)) return 'a pose is planned at a frame, or at a share of the step';
  if (!isNumber(tolerance) || tolerance < 0) return 'its tolerance is needed, in frames';
  if (part !== undefined && part !== 'leg.L' && part !== 'leg.R') return 'its part is leg.L or leg.R';
  const { directions } = (pose ?? {}) as { directions?: unknown };
  if (!isFoundByName(name) && (typeof directions !== 'object' || directions === null))
    return `“${name}” is no pose that is known by name: its pose is needed`;
  return undefined;
}

async function readJson(file: string): Promise<unknown> {
  try {
    return JSON.parse(await readFile(file, 'utf8'));
  } catch (error) {
    if (error instanceof SyntaxError) throw new UsageError(`${file} is not JSON`);
    throw error;
  }
}

/** Gathers the values of an option that may be given again. */
export const collect = (value: string, list: string[]): string[] => [...list, value];

/** Names of several points, given with commas between them. */
export const names =
  <T extends readonly string[]>(count: T['length']) =>
  (value: string, list: T[]): T[] => {
    const own = value.split(',').map((name) => name.trim());
    if (own.length !== count || own.includes('')) throw new InvalidArgumentError(`expected ${count} names`);
    return [...list, own as unknown as T];
  };

/** An option's value as a number above 0. */
export const positive = (text: string): number => {
  const value = Number(text);
  if (!(value > 0) || !Number.isFinite(value)) throw new InvalidArgumentError('expected a number above 0');
  return value;
};

/** An option's value as a whole number. */
export const whole = (text: string): number => {
  const value = Number(text);
  if (text.trim() === '' || !Number.isInteger(value)) throw new InvalidArgumentError('expected a whole number');
  return value;
};
