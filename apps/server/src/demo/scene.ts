import type { INestApplication } from '@nestjs/common';
import type { Transaction } from 'sequelize';
import type { PersonModel } from '../people/person.model.ts';
import type { Models } from '../database/models.ts';

/** What everything that fills the demo works with. */
export interface Scene {
  readonly app: INestApplication;
  readonly transaction: Transaction;
  readonly models: Models;
  readonly people: ReadonlyMap<string, PersonModel>;
  readonly now: number;
}

/** Six o'clock, before class, of the day a time lies in. */
export function evening(time: number): Date {
  const date = new Date(time);
  date.setHours(18, 0, 0, 0);
  return date;
}

/** “night-round-tanabe-1.bvh”. */
export function fileNameOf(title: string, student: string, number: number, ending: string): string {
  const surname = student
    .split(' ')
    .at(-1)!
    .normalize('NFD')
    .replace(/[^A-Za-z]/g, '')
    .toLowerCase();
  return `${title.toLowerCase().replaceAll(' ', '-')}-${surname}-${number}.${ending}`;
}
