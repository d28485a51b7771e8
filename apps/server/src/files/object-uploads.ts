import type { Readable } from 'node:stream';
import {
  GetObjectCommand,
  HeadObjectCommand,
  ListObjectsV2Command,
  ListPartsCommand,
  type S3Client,
} from '@aws-sdk/client-s3';
import { S3Store } from '@tus/s3-store';
import type { Upload } from '@tus/server';
import type { Configuration } from '../config.ts';
import { FileMissingError, FilesAwayError } from './file-home.ts';
import { asked, objectClient, objectClientConfig } from './object-client.ts';
import type { UploadPlace } from './upload-place.ts';

/** An upload is sent on in parts of this size; a smaller rest waits as an object of its own. */
const PART_BYTES = 8 * 1024 * 1024;
/** What the protocol's store notes of an upload lies beside it under this ending. */
const NOTED = '.info';

/** Uploads at the top of the bucket that files are kept in: whichever machine a piece comes to, it goes on where the last has ended. */
export class ObjectUploads implements UploadPlace {
  readonly store: S3Store;
  private readonly client: S3Client;
  private readonly bucket: string;

  constructor(configuration: Configuration) {
    this.client = objectClient(configuration);
    this.bucket = configuration.S3_BUCKET;
    this.store = new Store({
      partSize: PART_BYTES,
      // Not every object store has labels.
      useTags: false,
      s3ClientConfig: { ...objectClientConfig(configuration), bucket: this.bucket },
    });
  }

  async names(person?: string): Promise<string[]> {
    const names: string[] = [];
    let ContinuationToken: string | undefined;
    do {
      const command = new ListObjectsV2Command({
        Bucket: this.bucket,
        Delimiter: '/',
        ...(person !== undefined && { Prefix: `${person}.` }),
        ContinuationToken,
      });
      const page = await asked(() => this.client.send(command));
      for (const { Key } of page.Contents ?? []) if (Key!.endsWith(NOTED)) names.push(Key!.slice(0, -NOTED.length));
      ContinuationToken = page.NextContinuationToken;
    } while (ContinuationToken !== undefined);
    return names;
  }

  async changedAt(name: string): Promise<number> {
    const noted = await this.client
      .send(new HeadObjectCommand({ Bucket: this.bucket, Key: `${name}${NOTED}` }))
      .catch(() => undefined);
    if (!noted) return 0;
    const parts = await this.client
      .send(new ListPartsCommand({ Bucket: this.bucket, Key: name, UploadId: noted.Metadata?.['upload-id'] }))
      // It has come whole, and its parts are one object.
      .catch(() => ({ Parts: [] }));
    return Math.max(...[noted, ...(parts.Parts ?? [])].map(({ LastModified }) => LastModified?.getTime() ?? 0));
  }

  async open(name: string): Promise<Readable> {
    const { Body } = await asked(() => this.client.send(new GetObjectCommand({ Bucket: this.bucket, Key: name })));
    return Body as Readable;
  }

  async remove(name: string): Promise<void> {
    await this.store.remove(name);
  }
}

/**
 * The protocol's own store, whose failures are told from what is not there; and which ends a removal where an upload has come whole and has no parts
 * any more: what lies there is removed as well.
 */
class Store extends S3Store {
  override create(upload: Upload): Promise<Upload> {
    return told(super.create(upload));
  }

  override write(readable: Readable, id: string, offset: number): Promise<number> {
    return told(super.write(readable, id, offset));
  }

  override getUpload(id: string): Promise<Upload> {
    return told(super.getUpload(id)).catch(async (error: unknown) => {
      // It calls missing whatever could not be read: only what the store itself says is not there is missing.
      if (isOfProtocol(error) && (await this.isNoted(id)))
        throw new FilesAwayError('what is noted of an upload could not be read');
      throw error;
    });
  }

  /**
   * Asked for a byte of it, not for its head alone: what refuses a head has no words, and so does not say whether the object or its bucket is missing.
   * @throws FilesAwayError
   */
  private isNoted(id: string): Promise<boolean> {
    const first = { Bucket: this.bucket, Key: `${id}${NOTED}`, Range: 'bytes=0-0' };
    return asked(() => this.client.getObject(first)).then(
      ({ Body }) => {
        (Body as Readable).destroy();
        return true;
      },
      (error: unknown) => {
        if (error instanceof FileMissingError) return false;
        throw error;
      },
    );
  }

  override async remove(name: string): Promise<void> {
    await told(super.remove(name)).catch((error: unknown) => {
      if (!isOfProtocol(error)) throw error;
    });
    for (const Key of [name, `${name}${NOTED}`, `${name}.part`])
      await asked(() => this.client.deleteObject({ Bucket: this.bucket, Key })).catch((error: unknown) => {
        if (!(error instanceof FileMissingError)) throw error;
      });
  }
}

/** What the protocol itself has a word for. */
const isOfProtocol = (error: unknown): boolean => typeof (error as { status_code?: unknown }).status_code === 'number';

/** @throws FilesAwayError where the store failed, and not what was asked of it */
const told = <T>(answer: Promise<T>): Promise<T> =>
  answer.catch((error: unknown) => {
    throw isOfProtocol(error) ? error : new FilesAwayError(error);
  });
