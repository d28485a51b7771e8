import { Injectable } from '@nestjs/common';
import { hash, verify } from 'argon2';
import type { Request } from 'express';
import { fn, col, where } from 'sequelize';
import type { Person } from '@ypsigraph/contract/people';
import { PersonModel } from '../database/models.ts';
import { ProblemException } from '../http/problem.ts';

@Injectable()
export class SessionService {
  /** Checked when nobody has the address, so that an unknown one takes as long to refuse as a wrong password. */
  private readonly nobody = hash('nobody has this password');

  /** The person with this address and password. */
  async check(email: string, password: string): Promise<Person> {
    const person = await PersonModel.findOne({ where: where(fn('lower', col('email')), email.toLowerCase()) });
    const right = await verify(person?.passwordHash ?? (await this.nobody), password);
    if (!person || !right || person.archivedAt) {
      throw new ProblemException(401, 'wrong-password', 'The address or the password is not right.');
    }
    return { id: person.id, name: person.name, role: person.role };
  }

  /** Starts a session with a new id, so that one planted before signing in is worth nothing. */
  async begin(request: Request, personId: string): Promise<void> {
    await promised((done) => request.session.regenerate(done));
    request.session.personId = personId;
    await promised((done) => request.session.save(done));
  }

  async end(request: Request): Promise<void> {
    await promised((done) => request.session.destroy(done));
  }
}

const promised = (work: (done: (error?: unknown) => void) => void): Promise<void> =>
  new Promise((resolve, reject) => work((error) => (error ? reject(error) : resolve())));
