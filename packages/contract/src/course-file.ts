import { z } from 'zod';
import { BriefFileFormat } from './briefs.ts';
import { NewPhrase } from './marks.ts';
import { words } from './vocabulary.ts';

/** Most that a course may hold. */
export const COURSE_LIMITS = { briefs: 300, versions: 100, files: 20, phrases: 500 } as const;

/** Where a file lies in the archive: in a folder of its content's. */
const Place = z
  .string()
  .max(300)
  .regex(/^files\/[0-9a-f]{16}\/[^/\\]+$/, 'a place in the archive, as files/0123456789abcdef/name');

/** A course as an archive has it: its briefs with every version and their files, and the phrases of whoever took it away. */
export const CourseFileFormat = z.object({
  format: z.literal('ypsigraph-course'),
  version: z.literal(1),
  briefs: z
    .array(
      z.object({
        /** The oldest first. */
        versions: z
          .array(
            z.object({
              brief: BriefFileFormat.shape.brief,
              files: z
                .array(z.object({ name: words(200), place: Place, heard: z.boolean().default(false) }))
                .max(COURSE_LIMITS.files)
                .refine((files) => files.filter(({ heard }) => heard).length <= 1, 'one of its files at most is heard'),
            }),
          )
          .min(1)
          .max(COURSE_LIMITS.versions),
      }),
    )
    .min(1)
    .max(COURSE_LIMITS.briefs),
  phrases: z.array(NewPhrase.omit({ key: true })).max(COURSE_LIMITS.phrases),
});
export type CourseFileFormat = z.infer<typeof CourseFileFormat>;

/** Entry of an archive that says what it holds. */
export const COURSE_ENTRY = 'course.json';

/** What came of an archive that was brought in. */
export const CourseTaken = z.object({
  /** The briefs that were made of it, by the titles they have here. */
  briefs: z.array(z.object({ id: z.string(), title: z.string() })),
  /** Phrases that were not there yet. */
  phrases: z.number().int(),
});
export type CourseTaken = z.infer<typeof CourseTaken>;
