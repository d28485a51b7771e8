import {
  type CreationOptional,
  DataTypes,
  type InferAttributes,
  type InferCreationAttributes,
  Model,
  type ModelAttributes,
  type Sequelize,
} from 'sequelize';
import type {
  KindOfExercise,
  MarkKind,
  MarkState,
  Media,
  ReadingState,
  RevisionState,
  Role,
  Stage,
} from '@ypsigraph/contract/vocabulary';
import { type BriefContent, EMPTY_BRIEF } from '@ypsigraph/contract/briefs';
import type { Payload, PencilLine, Pose, Weight } from '@ypsigraph/contract/marks';
import type { StoredReport } from '@ypsigraph/contract/shots';
import type { z } from 'zod';

type LoopChoice = 'auto' | 'none' | 'repeat' | 'follow';

abstract class Row<M extends Model> extends Model<InferAttributes<M>, InferCreationAttributes<M>> {}

export class PersonModel extends Row<PersonModel> {
  declare id: CreationOptional<string>;
  declare name: string;
  declare email: string;
  declare role: Role;
  declare passwordHash: string;
  declare archivedAt: CreationOptional<Date | null>;
}

export class CohortModel extends Row<CohortModel> {
  declare id: CreationOptional<string>;
  declare name: string;
  declare term: CreationOptional<string>;
  /** IANA name of the zone its dates are meant in. */
  declare timeZone: CreationOptional<string>;
}

export class EnrolmentModel extends Row<EnrolmentModel> {
  declare personId: string;
  declare cohortId: string;
  declare role: Role;
}

export class BriefModel extends Row<BriefModel> {
  declare id: CreationOptional<string>;
  declare title: string;
  declare version: CreationOptional<number>;
  declare kind: z.infer<typeof KindOfExercise>;
  declare text: CreationOptional<string>;
  declare fps: CreationOptional<number>;
  declare firstFrame: CreationOptional<number>;
  declare loop: CreationOptional<LoopChoice>;
  declare frames: CreationOptional<number | null>;
  declare ground: CreationOptional<'auto' | 'flat' | 'steps'>;
  declare groundHeight: CreationOptional<number | null>;
  declare still: CreationOptional<string[]>;
  declare groups: CreationOptional<string[]>;
  /** The same for every version of a brief. */
  declare family: CreationOptional<string>;
  declare gauges: CreationOptional<BriefContent['gauges']>;
  declare stages: CreationOptional<BriefContent['stages']>;
  declare watch: CreationOptional<string[]>;
  declare before: CreationOptional<string[]>;
  declare rubric: CreationOptional<BriefContent['rubric']>;
  declare exemplar: CreationOptional<BriefContent['exemplar']>;
  declare rules: CreationOptional<BriefContent['rules']>;
  declare clockMinutes: CreationOptional<number | null>;
  declare createdBy: CreationOptional<string | null>;
  declare createdAt: CreationOptional<Date>;
  declare archivedAt: CreationOptional<Date | null>;
}

export class AssignmentModel extends Row<AssignmentModel> {
  declare id: CreationOptional<string>;
  declare briefId: string;
  declare cohortId: string;
  declare dueAt: Date;
  declare closedAt: CreationOptional<Date | null>;
  declare createdBy: string;
}

export class ShotModel extends Row<ShotModel> {
  declare id: CreationOptional<string>;
  declare assignmentId: string;
  declare studentId: string;
  /** The version of the brief it was begun with; the database sees to it. */
  declare briefId: string;
}

export class FileModel extends Row<FileModel> {
  declare sha256: string;
  declare bytes: number;
}

export class RevisionModel extends Row<RevisionModel> {
  declare id: CreationOptional<string>;
  declare shotId: string;
  declare number: number;
  declare stage: Stage;
  declare state: CreationOptional<RevisionState>;
  declare fileSha256: string;
  declare fileName: string;
  declare media: CreationOptional<Media>;
  declare note: CreationOptional<string>;
  declare firstFrame: CreationOptional<number>;
  declare loop: CreationOptional<LoopChoice>;
  declare roles: CreationOptional<Record<string, string | null>>;
  declare poses: CreationOptional<Pose[] | null>;
  declare readingState: CreationOptional<ReadingState>;
  declare readingReason: CreationOptional<string | null>;
  /** Which corrections a reading was made with: one made with older ones is dropped. */
  declare settingsVersion: CreationOptional<number>;
  declare readingTries: CreationOptional<number>;
  /** When somebody last worked on the reading. */
  declare readingBeat: CreationOptional<Date>;
  /** Somebody waits for the reading: it comes before those that nobody waits for. */
  declare readingWaited: CreationOptional<boolean>;
  /** Not before then, and in the order of it. */
  declare readingFrom: CreationOptional<Date>;
  /** Share of a clip's frames that have been decoded. */
  declare readingProgress: CreationOptional<number | null>;
  /** The upload it came from. */
  declare upload: CreationOptional<string | null>;
  declare words: CreationOptional<string | null>;
  declare asked: CreationOptional<string | null>;
  /** By when that is asked for. */
  declare askedBy: CreationOptional<Date | null>;
  declare workedOn: CreationOptional<string[]>;
  declare handedInAt: CreationOptional<Date>;
  declare judgedAt: CreationOptional<Date | null>;
}

export class RevisionEventModel extends Row<RevisionEventModel> {
  declare id: CreationOptional<string>;
  declare revisionId: string;
  declare authorId: string;
  declare what: string;
  declare data: CreationOptional<Record<string, unknown>>;
  declare at: CreationOptional<Date>;
}

export class ReadingModel extends Row<ReadingModel> {
  declare revisionId: string;
  declare coreVersion: string;
  declare report: StoredReport;
  declare madeAt: CreationOptional<Date>;
}

export class MarkModel extends Row<MarkModel> {
  declare id: string;
  declare revisionId: string;
  declare authorId: string;
  declare kind: MarkKind;
  declare fromFrame: number;
  declare toFrame: number;
  declare point: string | null;
  declare part: CreationOptional<string | null>;
  declare weight: CreationOptional<Weight>;
  declare stage: Stage;
  declare payload: CreationOptional<Payload | null>;
  declare lines: CreationOptional<PencilLine[]>;
  declare words: string;
  declare state: CreationOptional<MarkState>;
  declare version: CreationOptional<number>;
  declare sentAt: CreationOptional<Date | null>;
  declare archivedAt: CreationOptional<Date | null>;
  declare createdAt: CreationOptional<Date>;
}

export class MarkEventModel extends Row<MarkEventModel> {
  declare id: CreationOptional<string>;
  declare markId: string;
  declare authorId: string;
  declare what: string;
  declare data: CreationOptional<Record<string, unknown>>;
  declare at: CreationOptional<Date>;
}

export class DismissalModel extends Row<DismissalModel> {
  declare id: CreationOptional<string>;
  declare shotId: string;
  declare reading: string;
  declare part: string | null;
  declare reason: string;
  declare authorId: string;
  declare at: CreationOptional<Date>;
  declare takenBackAt: CreationOptional<Date | null>;
}

export class PhraseModel extends Row<PhraseModel> {
  declare id: string;
  declare personId: string;
  declare kind: MarkKind;
  declare reading: string | null;
  declare words: string;
  declare archivedAt: CreationOptional<Date | null>;
  declare createdAt: CreationOptional<Date>;
}

export class ReplyModel extends Row<ReplyModel> {
  declare id: string;
  declare markId: string;
  declare authorId: string;
  declare words: string;
  declare at: CreationOptional<Date>;
}

const id = { type: DataTypes.UUID, primaryKey: true, defaultValue: DataTypes.UUIDV4 };
const givenId = { type: DataTypes.UUID, primaryKey: true, allowNull: false };
const uuid = { type: DataTypes.UUID, allowNull: false };
const text = { type: DataTypes.TEXT, allowNull: false };
const maybeText = { type: DataTypes.TEXT };
const integer = { type: DataTypes.INTEGER, allowNull: false };
const maybeDate = { type: DataTypes.DATE };
const now = { type: DataTypes.DATE, allowNull: false, defaultValue: DataTypes.NOW };
const json = (defaultValue: unknown) => ({ type: DataTypes.JSONB, allowNull: false, defaultValue });
const withDefault = (type: typeof DataTypes.TEXT | typeof DataTypes.INTEGER, defaultValue: unknown) => ({
  type,
  allowNull: false,
  defaultValue,
});

/**
 * Models of one connection: classes of its own, so that two applications in one process do not take each other's. The tables themselves are
 * made by the migrations.
 */
export function defineModels(sequelize: Sequelize) {
  // Sequelize's own types tie attributes to one model class; this table has many.
  const define = <C extends object>(model: C, tableName: string, attributes: Record<string, unknown>): C => {
    // Sequelize writes into the attributes it is given: each model gets its own.
    const own = Object.fromEntries(
      Object.entries(attributes).map(([name, attribute]) => [name, { ...(attribute as object) }]),
    );
    const bound = class extends (model as unknown as typeof Model & (new () => Model)) {};
    bound.init(own as ModelAttributes, {
      sequelize,
      tableName,
      underscored: true,
      timestamps: false,
    });
    return bound as unknown as C;
  };
  return {
    Person: define(PersonModel, 'people', {
      id,
      name: text,
      email: text,
      role: text,
      passwordHash: text,
      archivedAt: maybeDate,
    }),
    Cohort: define(CohortModel, 'cohorts', {
      id,
      name: text,
      term: withDefault(DataTypes.TEXT, ''),
      timeZone: withDefault(DataTypes.TEXT, 'UTC'),
    }),
    Enrolment: define(EnrolmentModel, 'enrolments', {
      personId: { ...uuid, primaryKey: true },
      cohortId: { ...uuid, primaryKey: true },
      role: text,
    }),
    Brief: define(BriefModel, 'briefs', {
      id,
      title: text,
      version: withDefault(DataTypes.INTEGER, 1),
      kind: text,
      text: withDefault(DataTypes.TEXT, ''),
      fps: { type: DataTypes.DOUBLE, allowNull: false, defaultValue: 24 },
      firstFrame: withDefault(DataTypes.INTEGER, 1),
      loop: withDefault(DataTypes.TEXT, 'auto'),
      frames: { type: DataTypes.INTEGER },
      ground: withDefault(DataTypes.TEXT, 'auto'),
      groundHeight: { type: DataTypes.DOUBLE },
      still: json([]),
      groups: json([]),
      family: { type: DataTypes.UUID, allowNull: false, defaultValue: DataTypes.UUIDV4 },
      gauges: { type: DataTypes.JSONB },
      stages: json([]),
      watch: json([]),
      before: json([]),
      rubric: json([]),
      exemplar: { type: DataTypes.JSONB },
      rules: json(EMPTY_BRIEF.rules),
      clockMinutes: { type: DataTypes.INTEGER },
      createdBy: { type: DataTypes.UUID },
      createdAt: now,
      archivedAt: maybeDate,
    }),
    Assignment: define(AssignmentModel, 'assignments', {
      id,
      briefId: uuid,
      cohortId: uuid,
      dueAt: { type: DataTypes.DATE, allowNull: false },
      closedAt: maybeDate,
      createdBy: uuid,
    }),
    Shot: define(ShotModel, 'shots', { id, assignmentId: uuid, studentId: uuid, briefId: uuid }),
    File: define(FileModel, 'files', {
      sha256: { ...text, primaryKey: true },
      bytes: { type: DataTypes.BIGINT, allowNull: false },
    }),
    Revision: define(RevisionModel, 'revisions', {
      id,
      shotId: uuid,
      number: integer,
      stage: text,
      state: withDefault(DataTypes.TEXT, 'handed in'),
      fileSha256: text,
      fileName: text,
      media: withDefault(DataTypes.TEXT, 'motion'),
      note: withDefault(DataTypes.TEXT, ''),
      firstFrame: withDefault(DataTypes.INTEGER, 1),
      loop: withDefault(DataTypes.TEXT, 'auto'),
      roles: json({}),
      poses: { type: DataTypes.JSONB },
      readingState: withDefault(DataTypes.TEXT, 'queued'),
      readingReason: maybeText,
      settingsVersion: withDefault(DataTypes.INTEGER, 1),
      readingTries: withDefault(DataTypes.INTEGER, 0),
      readingBeat: now,
      words: maybeText,
      asked: maybeText,
      askedBy: maybeDate,
      workedOn: json([]),
      handedInAt: now,
      judgedAt: maybeDate,
      readingWaited: { type: DataTypes.BOOLEAN, allowNull: false, defaultValue: true },
      readingFrom: { type: DataTypes.DATE, allowNull: false, defaultValue: sequelize.literal('now()') },
      readingProgress: { type: DataTypes.REAL, allowNull: true },
      upload: { type: DataTypes.TEXT, allowNull: true },
    }),
    RevisionEvent: define(RevisionEventModel, 'revision_events', {
      id: { type: DataTypes.BIGINT, primaryKey: true, autoIncrement: true },
      revisionId: uuid,
      authorId: uuid,
      what: text,
      data: json({}),
      at: now,
    }),
    Reading: define(ReadingModel, 'readings', {
      revisionId: { ...uuid, primaryKey: true },
      coreVersion: { ...text, primaryKey: true },
      report: { type: DataTypes.JSONB, allowNull: false },
      madeAt: now,
    }),
    Mark: define(MarkModel, 'marks', {
      id: givenId,
      revisionId: uuid,
      authorId: uuid,
      kind: text,
      fromFrame: integer,
      toFrame: integer,
      point: maybeText,
      part: maybeText,
      weight: withDefault(DataTypes.TEXT, 'should'),
      stage: text,
      payload: { type: DataTypes.JSONB },
      lines: json([]),
      words: text,
      state: withDefault(DataTypes.TEXT, 'open'),
      version: withDefault(DataTypes.INTEGER, 1),
      sentAt: maybeDate,
      archivedAt: maybeDate,
      createdAt: now,
    }),
    MarkEvent: define(MarkEventModel, 'mark_events', {
      id: { type: DataTypes.BIGINT, primaryKey: true, autoIncrement: true },
      markId: uuid,
      authorId: uuid,
      what: text,
      data: json({}),
      at: now,
    }),
    Dismissal: define(DismissalModel, 'dismissals', {
      id: { type: DataTypes.BIGINT, primaryKey: true, autoIncrement: true },
      shotId: uuid,
      reading: text,
      part: maybeText,
      reason: text,
      authorId: uuid,
      at: now,
      takenBackAt: maybeDate,
    }),
    Phrase: define(PhraseModel, 'phrases', {
      id: givenId,
      personId: uuid,
      kind: text,
      reading: maybeText,
      words: text,
      archivedAt: maybeDate,
      createdAt: now,
    }),
    Reply: define(ReplyModel, 'replies', { id: givenId, markId: uuid, authorId: uuid, words: text, at: now }),
  };
}

export type Models = ReturnType<typeof defineModels>;
