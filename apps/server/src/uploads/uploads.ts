import { randomUUID } from 'node:crypto';
import { rm } from 'node:fs/promises';
import { join } from 'node:path';
import { Injectable, type OnModuleInit } from '@nestjs/common';
import { FileStore as TusStore } from '@tus/file-store';
import { Server, type ServerOptions } from '@tus/server';
import type { Request, Response } from 'express';
import { MAX_CLIP_BYTES } from '@ypsigraph/contract/pictures';
import type { Person } from '@ypsigraph/contract/people';
import { FileStore, type ReceivedFile } from '../files/file-store.ts';
import { conflict, notFound } from '../http/problem.ts';
import type { PersonRequest } from '../http/session.guard.ts';
import { HandInService } from '../revisions/hand-in.service.ts';

type TusRequest = Parameters<NonNullable<ServerOptions['namingFunction']>>[0];

/** What has come of a file by the tus protocol (resumable uploads, version 1.0.0), until it is handed in. */
@Injectable()
export class Uploads implements OnModuleInit {
  private store!: TusStore;
  private server!: Server;

  constructor(
    private readonly files: FileStore,
    private readonly revisions: HandInService,
  ) {}

  onModuleInit(): void {
    this.store = new TusStore({ directory: this.files.uploads() });
    this.server = new Server({
      path: '/api/uploads',
      datastore: this.store,
      relativeLocation: true,
      // An upload's name says whose it is: nobody else goes on with it.
      namingFunction: (request) => `${ownerOf(request)}.${randomUUID()}`,
      maxSize: async (request) => Math.min(MAX_CLIP_BYTES, await this.revisions.roomLeft({ id: ownerOf(request) })),
    });
  }

  /**
   * Answers a request of the protocol.
   * @throws ProblemException where the upload is somebody else's, or its bytes are asked for
   */
  async handle(person: Person, request: Request, response: Response, upload?: string): Promise<void> {
    if (upload !== undefined && !belongs(person, upload)) throw notFound('upload');
    // What was uploaded is never given out from here.
    if (request.method === 'GET') throw notFound('upload');
    await this.server.handle(request, response);
  }

  /**
   * An upload that has come whole, to be handed in.
   * @throws ProblemException where there is none, or more of it is to come
   */
  async take(person: Person, upload: string): Promise<{ file: ReceivedFile; fileName: string }> {
    if (!belongs(person, upload)) throw notFound('upload');
    const known = await this.store.getUpload(upload).catch(() => {
      throw notFound('upload');
    });
    if (known.size === undefined || known.offset !== known.size || known.size === 0)
      throw conflict('The file has not come whole yet.', 'Hand it in again: it goes on where it was cut.');
    const file = await this.files.adopt(join(this.files.uploads(), upload));
    await rm(join(this.files.uploads(), `${upload}.json`), { force: true });
    return { file, fileName: known.metadata?.filename ?? 'untitled' };
  }
}

/** Whose request it is: the guard has found that out, on the request that the server is behind. */
const ownerOf = ({ runtime }: TusRequest): string => (runtime!.node!.req as unknown as PersonRequest).person!.id;

const belongs = ({ id }: Person, upload: string): boolean =>
  /^[0-9a-f-]{36}\.[0-9a-f-]{36}$/.test(upload) && upload.startsWith(`${id}.`);
