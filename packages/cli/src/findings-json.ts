import type { Finding } from '@ypsigraph/core/gauge/findings';
import { judgedUnit, judgedValue } from '@ypsigraph/core/gauge/gauge';

/** A finding as one plain object: what `--json` prints. */
export const findingJson = ({ reading, judgement, distance, say, frames, also, gauge, twin }: Finding) => ({
  reading: reading.id,
  ...(reading.part !== undefined && { part: reading.part }),
  value: judgedValue(gauge, reading) ?? reading.value,
  unit: judgedUnit(gauge, reading),
  ...(frames.length > 0 && { frames }),
  judgement,
  distance,
  say,
  ...(also.length > 0 && { also }),
  ...(twin !== undefined && { twin }),
});
