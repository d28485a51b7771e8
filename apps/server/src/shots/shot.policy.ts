import { Injectable } from '@nestjs/common';
import type { Person } from '@ypsigraph/contract/people';
import { CoursePolicy } from '../courses/course.policy.ts';
import { AssignmentModel, MarkModel, RevisionModel, ShotModel } from '../database/models.ts';
import { notAllowed, notFound } from '../http/problem.ts';

/** Who may see a shot, and through it its revisions: its student, and the instructors and assistants of its cohort. */
@Injectable()
export class ShotPolicy {
  constructor(private readonly courses: CoursePolicy) {}

  async shot(person: Person, id: string): Promise<ShotModel> {
    const shot = await ShotModel.findByPk(id);
    if (!shot) throw notFound('shot');
    if (person.role === 'student') {
      if (shot.studentId !== person.id) throw notAllowed('This shot belongs to another student.');
      return shot;
    }
    const assignment = await AssignmentModel.findByPk(shot.assignmentId);
    await this.courses.mustBelong(person, assignment!.cohortId);
    return shot;
  }

  async revision(person: Person, id: string): Promise<RevisionModel> {
    const revision = await RevisionModel.findByPk(id);
    if (!revision) throw notFound('revision');
    await this.shot(person, revision.shotId);
    return revision;
  }

  /** A mark that is not archived; for its student only once it was sent. */
  async mark(person: Person, id: string): Promise<MarkModel> {
    const mark = await MarkModel.findByPk(id);
    if (!mark || mark.archivedAt) throw notFound('mark');
    await this.revision(person, mark.revisionId);
    if (person.role === 'student' && !mark.sentAt) throw notFound('mark');
    return mark;
  }
}
