import { type ArgumentsHost, Catch, type ExceptionFilter, HttpException, Logger } from '@nestjs/common';
import type { Request, Response } from 'express';
import { ConnectionError, ForeignKeyConstraintError, UniqueConstraintError } from 'sequelize';
import type { Problem } from '@ypsigraph/contract/problem';
import { FileMissingError, FilesAwayError } from '../files/file-home.ts';
import { StorageFullError } from '../files/received-file.ts';
import { safeAddress } from './log-secrets.ts';
import { databaseAway, filesAway, ProblemException, storageFull } from './problem.ts';

/** Answers every failed request with an RFC 9457 problem document; what was not foreseen is logged and not told. */
@Catch()
export class ProblemFilter implements ExceptionFilter {
  private readonly logger = new Logger(ProblemFilter.name);

  catch(error: unknown, host: ArgumentsHost): void {
    const http = host.switchToHttp();
    const request = http.getRequest<Request>();
    const response = http.getResponse<Response>();
    const problem = this.toProblem(error);
    if (problem.status >= 500) this.logger.error({ err: error, path: safeAddress(request.path) }, problem.title);
    if (response.headersSent) {
      response.end();
      return;
    }
    for (const name of ['Content-Disposition', 'ETag']) response.removeHeader(name);
    response
      .status(problem.status)
      .type('application/problem+json')
      // What is wrong now may be right in a moment.
      .set('Cache-Control', 'no-store')
      .send(JSON.stringify({ ...problem, instance: request.path }));
  }

  private toProblem(error: unknown): Problem {
    if (error instanceof ProblemException) {
      const { type, title, detail, fields } = error;
      return { type, title, status: error.getStatus(), ...(detail && { detail }), ...(fields && { fields }) };
    }
    if (error instanceof HttpException) {
      const status = error.getStatus();
      const title =
        status === 404
          ? 'There is nothing at this address.'
          : status === 429
            ? 'Too many tries: wait a minute.'
            : error.message;
      // A body that is not the JSON it says it is.
      if (status === 400)
        return {
          type: 'invalid',
          title: 'The request can’t be read.',
          status,
          detail: title,
          fields: [{ field: 'body', message: title }],
        };
      return { type: 'about:blank', title, status };
    }
    const unread = asUnreadable(error);
    if (unread) return unread;
    if (error instanceof StorageFullError) return this.toProblem(storageFull());
    if (error instanceof FileMissingError)
      return { type: 'file-missing', title: 'The file can’t be found here.', detail: error.message, status: 404 };
    if (error instanceof FilesAwayError) return this.toProblem(filesAway());
    if (isConnectionLoss(error)) return this.toProblem(databaseAway());
    if (error instanceof ForeignKeyConstraintError) {
      return { type: 'not-found', title: 'Something the request names does not exist.', status: 404 };
    }
    // Where two did the same at once and nothing more can be said of it.
    if (error instanceof UniqueConstraintError) {
      return {
        type: 'conflict',
        title: 'Somebody did the same a moment ago. Look at how it is now, and try again.',
        status: 409,
      };
    }
    return {
      type: 'about:blank',
      title: 'Something went wrong here. It has been written down; try again.',
      status: 500,
    };
  }
}

/** A body that could not even be read: too long, in an encoding nobody knows, or not the JSON it says it is. */
function asUnreadable(error: unknown): Problem | undefined {
  const { status, type } = error as { status?: unknown; type?: unknown };
  if (typeof status !== 'number' || status < 400 || status >= 500 || typeof type !== 'string') return undefined;
  const title =
    status === 413
      ? 'That is too much at once.'
      : status === 415
        ? 'The request is in an encoding that is not read here.'
        : 'The request can’t be read.';
  const message = error instanceof Error ? error.message : '';
  return { type: 'invalid', title, status, ...(message && { detail: message }), fields: [{ field: 'body', message }] };
}

/** Whether the database went away under a statement: it was restarted, or can't be reached. */
export function isConnectionLoss(error: unknown): boolean {
  if (error instanceof ConnectionError) return true;
  const { code, message = '' } = error as { code?: string; message?: string };
  const inner = (error as { original?: unknown }).original;
  // 57P0x: shut down; 57014: a statement took too long; 55P03: a lock did; 08: the connection; 40P01: two that waited for each other.
  if (/^(57P0|57014|55P03|40P01|53300|08|ECONN|EPIPE|ETIMEDOUT)/.test(code ?? '')) return true;
  if (
    /Connection terminated|connection manager was closed|not queryable|read timeout|timeout exceeded when trying to connect/i.test(
      message,
    )
  )
    return true;
  return inner !== undefined && inner !== error && isConnectionLoss(inner);
}
