import { CHART_PRESETS } from '../chart/presets.ts';
import { type ParameterKind, type Parameters, type Remedy, RemedyError } from './remedy.ts';

/** A remedy's parameters, checked: each by its name. */
export class Given {
  private constructor(private readonly values: Parameters) {}

  /**
   * Checks parameters against what the remedy takes, and fills in what was left out.
   * @throws RemedyError that names the parameter and what it may be
   */
  static of({ id, parameters }: Pick<Remedy, 'id' | 'parameters'>, values: Parameters): Given {
    const own: Record<string, string | number> = {};
    for (const [name, value] of Object.entries(values)) {
      const kind = parameters[name];
      if (!kind)
        throw new RemedyError(`${id} has no parameter “${name}”: it takes ${Object.keys(parameters).join(', ')}`);
      own[name] = checked(`${id}: ${name}`, kind, value);
    }
    for (const [name, kind] of Object.entries(parameters))
      if (own[name] === undefined && kind.default !== undefined) own[name] = kind.default;
    return new Given(own);
  }

  number(name: string): number | undefined {
    const value = this.values[name];
    return typeof value === 'number' ? value : undefined;
  }

  text(name: string): string | undefined {
    const value = this.values[name];
    return value === undefined ? undefined : String(value);
  }

  has(name: string): boolean {
    return this.values[name] !== undefined;
  }
}

/** A parameter's value as it may be: numbers that came as text are read. */
function checked(where: string, kind: ParameterKind, value: string | number): string | number {
  if (kind.is === 'number' || kind.is === 'frame') {
    const number = typeof value === 'number' ? value : value.trim() === '' ? NaN : Number(value);
    if (!Number.isFinite(number)) throw new RemedyError(`${where} is a number, not “${value}”`);
    if (kind.is === 'frame') {
      if (!Number.isInteger(number)) throw new RemedyError(`${where} is the label of a frame, not ${value}`);
      return number;
    }
    const [low, high] = kind.range;
    if (number < low || number > high) throw new RemedyError(`${where} lies between ${low} and ${high}, not ${value}`);
    return number;
  }
  const text = String(value);
  if (kind.is === 'one of' && !kind.words.includes(text))
    throw new RemedyError(`${where} is one of ${kind.words.join(', ')}, not “${text}”`);
  if (kind.is === 'fractions') return checkedFractions(where, text);
  if (text.trim() === '') throw new RemedyError(`${where} is empty`);
  return text;
}

/** Spacings that can be asked for besides numbers: the trade's, and the shot's own with what is uneven smoothed out. */
export const SPACINGS = [...CHART_PRESETS, 'smooth'] as const;

function checkedFractions(where: string, text: string): string {
  if ((SPACINGS as readonly string[]).includes(text)) return text;
  const fractions = text.split('+').map(Number);
  const rises = fractions.every((own, k) => own >= 0 && own <= 1 && (k === 0 || own >= fractions[k - 1]!));
  if (!rises)
    throw new RemedyError(`${where} is one of ${SPACINGS.join(', ')}, or fractions from 0 to 1 with + between them`);
  return text;
}
