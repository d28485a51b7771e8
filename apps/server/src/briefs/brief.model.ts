import { DataTypes } from 'sequelize';
import { BriefContent, EMPTY_BRIEF } from '@ypsigraph/contract/briefs';
import { z } from 'zod';
import {
  type Column,
  columnName,
  integerOr,
  key,
  maybeMoment,
  maybeUuid,
  momentOrNow,
  type Row,
  table,
  uuidOrNew,
} from '../database/table.ts';

type Field = keyof BriefContent;
type Defaulted = keyof typeof EMPTY_BRIEF;

/** The SQL type of a field, by its schema: words, numbers, and everything else as JSON. */
function typeOf(schema: z.ZodType): Column<unknown>['options']['type'] {
  if (schema instanceof z.ZodNullable || schema instanceof z.ZodDefault) return typeOf(schema.unwrap() as z.ZodType);
  if (schema instanceof z.ZodString || schema instanceof z.ZodEnum) return DataTypes.TEXT;
  if (!(schema instanceof z.ZodNumber)) return DataTypes.JSONB;
  return schema.isInt ? DataTypes.INTEGER : DataTypes.DOUBLE;
}

/** Every field of the contract's content is a column: a new one is a line there, and a migration. */
const CONTENT = Object.fromEntries(
  Object.entries(BriefContent.shape).map(([field, schema]) => {
    const first = (EMPTY_BRIEF as Partial<Record<string, unknown>>)[field];
    const allowNull = schema instanceof z.ZodNullable;
    return [field, { options: { type: typeOf(schema), allowNull, ...(first != null && { defaultValue: first }) } }];
  }),
) as unknown as { readonly [K in Field]: Column<BriefContent[K], K extends Defaulted ? false : true> };

export const BRIEFS = table('briefs', {
  id: key(uuidOrNew()),
  /** The same for every version of a brief. */
  family: uuidOrNew(),
  version: integerOr(1),
  ...CONTENT,
  createdBy: maybeUuid(),
  createdAt: momentOrNow(),
  archivedAt: maybeMoment(),
});
export type BriefModel = Row<typeof BRIEFS>;

const FIELDS = Object.keys(CONTENT) as Field[];

/** What a version of a brief says. */
export const contentOf = (brief: BriefModel): BriefContent =>
  Object.fromEntries(FIELDS.map((field) => [field, brief[field]])) as unknown as BriefContent;

/** The arguments of `json_build_object` for what a row says; `b` is its name in the statement. */
export const contentArguments = (b: string): string =>
  FIELDS.map((field) => `'${field}', ${b}.${columnName(field)}`).join(', ');
