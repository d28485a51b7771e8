import { answersFor, UNTOUCHED } from '../src/pages/taken-for.ts';

const joint = (name: string) => ({ name, parent: -1, offset: [0, 0, 0] as const, ends: [] });
const file = {
  joints: ['hips', 'head', 'tail'].map(joint),
  holds: { animations: ['foghorn', 'a nod'], figures: ['keeper', 'pilot'] },
};

test('what was answered of the last file is said of the next where its names are in it', () => {
  expect(answersFor(file, { roles: { head: 'tail' }, animation: 'a nod' })).toEqual({
    roles: { head: 'tail' },
    animation: 'a nod',
  });
  expect(answersFor(file, { roles: {}, figure: 'pilot' })).toEqual({ roles: {}, figure: 'pilot' });
});

test('what is not in the next file, or is read anyway, is left to the file', () => {
  expect(answersFor(file, UNTOUCHED)).toBeUndefined();
  expect(answersFor(file, { roles: {}, animation: 'foghorn', figure: 'keeper' })).toBeUndefined();
  expect(answersFor(file, { roles: { head: 'helmet' }, animation: 'two nods' })).toBeUndefined();
  expect(answersFor({ joints: file.joints }, { roles: {}, animation: 'a nod' })).toBeUndefined();
});

test('roles are a figure’s own: those of another are not taken over', () => {
  expect(answersFor(file, { roles: { head: 'tail' }, figure: 'pilot' })).toEqual({ roles: {}, figure: 'pilot' });
});
