/** @jest-environment jsdom */
import { fireEvent, render, screen } from '@testing-library/react';
import { useState } from 'react';
import { MomentInput, readMoment } from '../src/kit/moment-input.tsx';

test.each([
  ['3 Dec 2026, 18:00', new Date(2026, 11, 3, 18)],
  ['3 december 2026 9:30', new Date(2026, 11, 3, 9, 30)],
  ['3.12.2026 07:05', new Date(2026, 11, 3, 7, 5)],
  ['2026-12-03T18:00', new Date(2026, 11, 3, 18)],
  // A day alone ends in the evening.
  ['3 Dec 2026', new Date(2026, 11, 3, 18)],
])('“%s” is read as a day and a time', (text, moment) => {
  expect(readMoment(text)).toEqual(moment);
});

test.each(['', 'soon', '31 Feb 2026, 18:00', '3 Dec'])('“%s” is no day', (text) => {
  expect(readMoment(text)).toBeUndefined();
});

test('what is written is taken once it is a day, said to be none until then, and shown as the pages say it', () => {
  const told: (string | null)[] = [];
  function Dated() {
    const [value, setValue] = useState<string | null>(new Date(2026, 11, 3, 18).toISOString());
    return (
      <MomentInput
        label="Due"
        value={value}
        onChange={(next) => {
          told.push(next);
          setValue(next);
        }}
      />
    );
  }
  render(<Dated />);
  const field = screen.getByLabelText<HTMLInputElement>('Due');
  expect(field.value).toBe('3 Dec 2026, 18:00');
  fireEvent.change(field, { target: { value: '4 De' } });
  expect([told.length, screen.queryByRole('alert') !== null]).toEqual([0, true]);
  fireEvent.change(field, { target: { value: '4 Dec 2026, 12:30' } });
  expect([told.at(-1), screen.queryByRole('alert')]).toEqual([new Date(2026, 11, 4, 12, 30).toISOString(), null]);
  fireEvent.blur(field);
  expect(field.value).toBe('4 Dec 2026, 12:30');
  fireEvent.change(field, { target: { value: '' } });
  expect(told.at(-1)).toBeNull();
});
