import { BriefContent, type Brief } from '@ypsigraph/contract/briefs';
import { faultsOf } from '@ypsigraph/contract/check-brief';

/** What a version of a brief says, without its name in the database. */
export function contentOf(brief: Brief & Readonly<Record<string, unknown>>): BriefContent {
  const known = Object.keys(BriefContent.shape);
  return Object.fromEntries(Object.entries(brief).filter(([key]) => known.includes(key))) as BriefContent;
}

/** Lines that were left empty are no lines. */
export const tidied = (content: BriefContent): BriefContent => {
  const lines = (list: readonly string[]): string[] => list.map((line) => line.trim()).filter((line) => line !== '');
  return { ...content, still: lines(content.still), groups: lines(content.groups), watch: lines(content.watch) };
};

export interface FieldFault {
  readonly field: string;
  readonly message: string;
}

/** What is wrong with a draft, by field: nothing where it can be stored. */
export function faultsOfDraft(content: BriefContent): FieldFault[] {
  const parsed = BriefContent.safeParse(tidied(content));
  if (!parsed.success)
    return parsed.error.issues.map(({ path, message }) => ({ field: path.map(String).join('.'), message }));
  return faultsOf(parsed.data);
}

/** What is said at a field: of what is wrong with it or within it. */
export const faultAt = (faults: readonly FieldFault[], path: string): string | undefined =>
  faults.find(({ field }) => field === path || field.startsWith(`${path}.`))?.message;
