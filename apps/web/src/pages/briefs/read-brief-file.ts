import { BriefFileFormat } from '@ypsigraph/contract/briefs';
import { faultsOf } from '@ypsigraph/contract/check-brief';

/** A brief from a file's text, or what is wrong with it, line by line: looked at before anything is sent. */
export function readBriefFile(
  text: string,
): { readonly brief: BriefFileFormat } | { readonly faults: readonly string[] } {
  let json: unknown;
  try {
    json = JSON.parse(text);
  } catch (error) {
    return { faults: [`This is no JSON: ${(error as Error).message}.`] };
  }
  const parsed = BriefFileFormat.safeParse(json);
  if (!parsed.success)
    return {
      faults: parsed.error.issues.map(({ path, message }) => `${path.map(String).join('.') || 'the file'}: ${message}`),
    };
  const faults = faultsOf({ ...parsed.data.brief, before: [] });
  if (faults.length > 0) return { faults: faults.map(({ field, message }) => `brief.${field}: ${message}`) };
  return { brief: parsed.data };
}
