import type { ArgumentsHost } from '@nestjs/common';
import { Logger, NotFoundException } from '@nestjs/common';
import { invalid } from '../src/http/problem.ts';
import { ConnectionRefusedError, DatabaseError } from 'sequelize';
import { z } from 'zod';
import { conflict, notAllowed, refusedFile } from '../src/http/problem.ts';
import { isConnectionLoss, ProblemFilter } from '../src/http/problem.filter.ts';

beforeAll(() => Logger.overrideLogger(false));

/** What a request that failed so is answered with. */
function answered(error: unknown): { status: number; type: string; body: Record<string, unknown> } {
  const answer = { status: 0, type: '', body: {} as Record<string, unknown> };
  const response = {
    headersSent: false,
    removeHeader: () => undefined,
    set: () => response,
    status: (status: number) => ((answer.status = status), response),
    type: (type: string) => ((answer.type = type), response),
    send: (text: string) => ((answer.body = JSON.parse(text) as Record<string, unknown>), response),
  };
  const http = { getRequest: () => ({ path: '/api/shots/1' }), getResponse: () => response };
  new ProblemFilter().catch(error, { switchToHttp: () => http } as unknown as ArgumentsHost);
  return answer;
}

const databaseError = (code: string): DatabaseError =>
  new DatabaseError(Object.assign(new Error('gone'), { code, sql: '' }));

// RFC 9457, Problem Details for HTTP APIs: type, title, status, detail and instance; media type application/problem+json.
describe('problem documents', () => {
  test('say what is wrong, what to do, and where', () => {
    const { status, type, body } = answered(conflict('This exercise is closed.', 'Ask for it.'));
    expect([status, type]).toEqual([409, 'application/problem+json']);
    expect(body).toEqual({
      type: 'conflict',
      title: 'This exercise is closed.',
      status: 409,
      detail: 'Ask for it.',
      instance: '/api/shots/1',
    });
  });

  test.each([
    [notAllowed('Not yours.'), 403, 'not-allowed'],
    [refusedFile('No.', 'line 3: expected {'), 422, 'file-refused'],
    [refusedFile('Too large.', undefined, 413), 413, 'file-refused'],
    [new NotFoundException(), 404, 'about:blank'],
    [new ConnectionRefusedError(new Error('refused')), 503, 'database-away'],
    [databaseError('57P01'), 503, 'database-away'],
    [new Error('the password is swordfish'), 500, 'about:blank'],
  ])('%s is %i', (error, status, type) => {
    const answer = answered(error);
    expect([answer.status, answer.body.type]).toEqual([status, type]);
  });

  test('what was not foreseen is not told', () => {
    expect(JSON.stringify(answered(new Error('the password is swordfish')).body)).not.toContain('swordfish');
  });

  test('fields that were refused are named one by one', () => {
    const parsed = z
      .object({ from: z.number(), words: z.string().min(1, 'a mark needs words') })
      .safeParse({ from: 'x', words: '' });
    const { body } = answered(invalid(parsed.error!));
    expect(body.fields).toEqual([
      { field: 'from', message: expect.any(String) },
      { field: 'words', message: 'a mark needs words' },
    ]);
    expect(body.detail).toContain('words: a mark needs words');
  });

  test('an answer that has begun is only ended', () => {
    let ended = false;
    const http = {
      getRequest: () => ({ path: '/' }),
      getResponse: () => ({ headersSent: true, end: () => (ended = true) }),
    };
    new ProblemFilter().catch(new Error('late'), { switchToHttp: () => http } as unknown as ArgumentsHost);
    expect(ended).toBe(true);
  });
});

// Codes: PostgreSQL documentation, appendix A, error codes: class 08 connection exception, 57P01 admin shutdown, 23505 unique violation.
test.each([
  [databaseError('57P01'), true],
  [databaseError('57P03'), true],
  [databaseError('08006'), true],
  [Object.assign(new Error('read'), { code: 'ECONNRESET' }), true],
  [new Error('Connection terminated unexpectedly'), true],
  [databaseError('23505'), false],
  [new Error('something else'), false],
])('%s: a lost connection is told from a wrong statement', (error, lost) => {
  expect(isConnectionLoss(error)).toBe(lost);
});
