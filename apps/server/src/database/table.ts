import { DataTypes, Model, type ModelAttributeColumnOptions, type ModelStatic, type Sequelize } from 'sequelize';

/** A column, with the type of what it holds; `Given` where a new row must say it. */
export interface Column<T, Given extends boolean = boolean> {
  readonly options: ModelAttributeColumnOptions;
  /** Never there: it carries the type. */
  readonly holds?: T;
  readonly given?: Given;
}
type Columns = Readonly<Record<string, Column<unknown>>>;

/** A table by its one list of columns. The database itself is made by the migrations. */
export interface Table<C extends Columns = Columns> {
  readonly name: string;
  readonly columns: C;
}
export const table = <C extends Columns>(name: string, columns: C): Table<C> => ({ name, columns });

type Holds<C> = C extends Column<infer T> ? T : never;
type Attributes<C extends Columns> = { [K in keyof C]: Holds<C[K]> };
type Given<C extends Columns> = { [K in keyof C]: C[K] extends { readonly given?: true } ? K : never }[keyof C];
type NewRow<C extends Columns> = Pick<Attributes<C>, Given<C>> & Partial<Attributes<C>>;
/** A row of a table, as the services have it. */
export type Row<T extends Table> = Model<Attributes<T['columns']>, NewRow<T['columns']>> & Attributes<T['columns']>;

const given = <T>(type: ModelAttributeColumnOptions['type']): Column<T, true> => ({
  options: { type, allowNull: false },
});
const orNull = <T>(type: ModelAttributeColumnOptions['type']): Column<T | null, false> => ({ options: { type } });
const or = <T>(type: ModelAttributeColumnOptions['type'], defaultValue: unknown): Column<T, false> => ({
  options: { type, allowNull: false, defaultValue },
});

/** A text; of a closed list its words are the type. */
export const text = <T extends string = string>() => given<T>(DataTypes.TEXT);
export const textOr = <T extends string = string>(first: NoInfer<T>) => or<T>(DataTypes.TEXT, first);
export const maybeText = () => orNull<string>(DataTypes.TEXT);
export const integer = () => given<number>(DataTypes.INTEGER);
export const integerOr = (first: number) => or<number>(DataTypes.INTEGER, first);
export const maybeReal = () => orNull<number>(DataTypes.REAL);
export const bytes = () => given<number>(DataTypes.BIGINT);
export const flagOr = (first: boolean) => or<boolean>(DataTypes.BOOLEAN, first);
export const moment = () => given<Date>(DataTypes.DATE);
export const momentOrNow = () => or<Date>(DataTypes.DATE, DataTypes.NOW);
export const maybeMoment = () => orNull<Date>(DataTypes.DATE);
export const uuid = () => given<string>(DataTypes.UUID);
export const uuidOrNew = () => or<string>(DataTypes.UUID, DataTypes.UUIDV4);
export const maybeUuid = () => orNull<string>(DataTypes.UUID);
export const json = <T>() => given<T>(DataTypes.JSONB);
export const jsonOr = <T>(first: NoInfer<T>) => or<T>(DataTypes.JSONB, first);
export const maybeJson = <T>() => orNull<T>(DataTypes.JSONB);
/** A number that the database counts on. */
export const counted = (): Column<string, false> => ({ options: { type: DataTypes.BIGINT, autoIncrement: true } });
/** The row's key, or one of several. */
export const key = <C extends Column<unknown>>(column: C): C => ({
  ...column,
  options: { ...column.options, primaryKey: true },
});

/** What every table of events has: who did what when. The events are of the row that the table adds. */
export const eventColumns = () => ({
  id: key(counted()),
  authorId: uuid(),
  what: text(),
  data: jsonOr<Record<string, unknown>>({}),
  at: momentOrNow(),
});

/** A column's name in the database: words between underscores. */
export const columnName = (field: string): string => field.replace(/[A-Z]/g, (letter) => `_${letter.toLowerCase()}`);

/** The model of a table on one connection: classes of its own, so that two applications in one process do not take each other's. */
export function bind<C extends Columns>(sequelize: Sequelize, { name, columns }: Table<C>): ModelStatic<Row<Table<C>>> {
  const bound = class extends Model {};
  bound.init(Object.fromEntries(Object.entries(columns).map(([field, { options }]) => [field, { ...options }])), {
    sequelize,
    tableName: name,
    underscored: true,
    timestamps: false,
  });
  return bound as unknown as ModelStatic<Row<Table<C>>>;
}
