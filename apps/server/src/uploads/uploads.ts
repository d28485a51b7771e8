import { randomUUID } from 'node:crypto';
import type { IncomingMessage } from 'node:http';
import { Injectable, type OnModuleInit } from '@nestjs/common';
import { Server, type ServerOptions } from '@tus/server';
import type { Request, Response } from 'express';
import { NodeRequest, sendNodeResponse } from 'srvx/node';
import { MAX_CLIP_BYTES } from '@ypsigraph/contract/pictures';
import type { Person } from '@ypsigraph/contract/people';
import { FileStore } from '../files/file-store.ts';
import { FilesAwayError } from '../files/file-home.ts';
import { StorageFullError } from '../files/received-file.ts';
import { MOST_UPLOADS, ownerOf, UploadStore } from '../files/upload-store.ts';
import { databaseAway, filesAway, notFound, ProblemException, quotaUsed, storageFull } from '../http/problem.ts';
import { isConnectionLoss } from '../http/problem.filter.ts';
import { Database } from '../database/database.module.ts';
import { HandInService } from '../revisions/hand-in.service.ts';
import { UploadLocks } from './upload-locks.ts';

type TusRequest = Parameters<NonNullable<ServerOptions['namingFunction']>>[0];

/** The tus protocol (resumable uploads, version 1.0.0), for files until they are handed in. */
@Injectable()
export class Uploads implements OnModuleInit {
  private server!: Server;
  /** The one name that each request is about: checked here, and read from no address again. */
  private readonly meant = new WeakMap<IncomingMessage, string>();

  constructor(
    private readonly files: FileStore,
    private readonly uploads: UploadStore,
    private readonly handIns: HandInService,
    private readonly database: Database,
  ) {}

  onModuleInit(): void {
    const nameOf = (request: TusRequest): string => this.meant.get(request.runtime!.node!.req as IncomingMessage)!;
    this.server = new Server({
      path: '/api/uploads',
      datastore: this.uploads.store,
      locker: new UploadLocks(this.database),
      relativeLocation: true,
      namingFunction: nameOf,
      getFileIdFromRequest: nameOf,
      maxSize: MAX_CLIP_BYTES,
      onResponseError: (request, error) => {
        const problem =
          error instanceof StorageFullError
            ? storageFull()
            : error instanceof FilesAwayError
              ? filesAway()
              : isConnectionLoss(error)
                ? databaseAway()
                : undefined;
        if (!problem) return undefined;
        const { type, title, detail } = problem;
        const status = problem.getStatus();
        const instance = new URL(request.url).pathname;
        return { status_code: status, body: JSON.stringify({ type, title, status, detail, instance }) };
      },
    });
  }

  /**
   * Begins an upload.
   * @throws ProblemException where it is larger than may be, or there is no room for it: before a byte of it has come
   */
  async begin(person: Person, request: Request, response: Response): Promise<void> {
    const bytes = Number(request.headers['upload-length']);
    if (!Number.isInteger(bytes) || bytes < 1)
      throw new ProblemException(400, 'invalid', 'An upload says how long it will be.', undefined, [
        { field: 'Upload-Length', message: 'the bytes of the file' },
      ]);
    await this.uploads.makeRoom(person.id);
    const { count } = await this.uploads.of(person.id);
    if (count >= MOST_UPLOADS)
      throw new ProblemException(
        429,
        'too-often',
        `${MOST_UPLOADS} files of yours are on their way already.`,
        'Hand one of them in, or wait: what nothing is added to for an hour makes room.',
      );
    const most = await this.handIns.roomLeft(person);
    if (bytes > MAX_CLIP_BYTES)
      throw new ProblemException(413, 'file-refused', 'The file is larger than 512 MB.', 'Export it smaller.');
    if (bytes > most) throw quotaUsed();
    await this.answer(`${person.id}.${randomUUID()}`, bytes, request, response);
  }

  /**
   * Answers a request about an upload.
   * @throws ProblemException where the upload is somebody else's, or its bytes are asked for
   */
  async handle(person: Person, request: Request, response: Response, upload: string): Promise<void> {
    this.refuseOthers(person, upload);
    // What was uploaded is never given out from here.
    if (request.method === 'GET') throw notFound('upload');
    await this.answer(upload, Number(request.headers['content-length'] ?? 0), request, response);
  }

  /** @throws ProblemException where it is no upload of theirs */
  refuseOthers(person: Person, upload: string): void {
    if (ownerOf(upload) !== person.id) throw notFound('upload');
  }

  private async answer(upload: string, bytes: number, request: Request, response: Response): Promise<void> {
    if (bytes > 0 && !(await this.files.hasRoomFor(bytes))) throw storageFull();
    this.meant.set(request, upload);
    const answer = await this.server.handleWeb(new NodeRequest({ req: request, res: response }));
    if ([503, 507].includes(answer.status)) answer.headers.set('Content-Type', 'application/problem+json');
    await sendNodeResponse(response, answer);
  }
}
