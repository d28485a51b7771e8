import { z } from 'zod';
import { BriefFileFormat } from './briefs.ts';
import { CourseFileFormat } from './course-file.ts';

/** The JSON Schema (draft 2020-12) of a brief as a file, for other programs: what a file must be before it is written. */
export const briefJsonSchema = (): { readonly $id: string } => ({
  $id: 'https://saltwick.example/schemas/brief-1.json',
  title: 'A brief: an exercise with its gauges, stages, rubric and exemplar',
  ...z.toJSONSchema(BriefFileFormat, { target: 'draft-2020-12', io: 'input' }),
});

/** The same of a whole course: what `course.json` in its archive is. */
export const courseJsonSchema = (): { readonly $id: string } => ({
  $id: 'https://saltwick.example/schemas/course-1.json',
  title: 'A course: its briefs with every version, their files, and phrases',
  ...z.toJSONSchema(CourseFileFormat, { target: 'draft-2020-12', io: 'input' }),
});
