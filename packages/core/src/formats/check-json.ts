import { FormatError, LIMITS } from './format-error.ts';

/** An object of a JSON text, of which nothing is known yet. */
export type Loose = Readonly<Record<string, unknown>>;

const LONGEST = 60;

/** What stands somewhere, as short as a sentence can hold it. */
export function said(value: unknown): string {
  const text = value === undefined ? 'none' : (JSON.stringify(value) ?? 'none');
  return text.length > LONGEST ? `${text.slice(0, LONGEST)}…` : text;
}

/** @throws FormatError that says where, when there is none */
export function objectAt(value: unknown, where: string): Loose {
  if (typeof value !== 'object' || value === null || Array.isArray(value))
    throw new FormatError(`${where}: expected an object, found ${said(value)}`);
  return value as Loose;
}

/** @throws FormatError that says where, when there is none */
export function listAt(value: unknown, where: string): readonly unknown[] {
  if (!Array.isArray(value)) throw new FormatError(`${where}: expected a list, found ${said(value)}`);
  return value;
}

/** A number that can be reckoned with. @throws FormatError that says where, when there is none */
export function numberAt(value: unknown, where: string): number {
  if (typeof value !== 'number' || !Number.isFinite(value) || Math.abs(value) > LIMITS.value)
    throw new FormatError(`${where}: expected a number, found ${said(value)}`);
  return value;
}
