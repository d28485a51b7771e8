import { createReadStream } from 'node:fs';
import { readFile } from 'node:fs/promises';
import { Readable } from 'node:stream';
import {
  DeleteObjectCommand,
  GetObjectCommand,
  HeadBucketCommand,
  HeadObjectCommand,
  ListObjectsV2Command,
  PutObjectCommand,
  type S3Client,
} from '@aws-sdk/client-s3';
import { Upload } from '@aws-sdk/lib-storage';
import { getSignedUrl } from '@aws-sdk/s3-request-presigner';
import { type ByteRange, type FileHome, FileMissingError, FilesAwayError, type KeptFile } from './file-home.ts';
import { asked } from './object-client.ts';

/** A file larger than this is sent in parts, so many bytes each. */
const PART_BYTES = 16 * 1024 * 1024;
/** A file is sent so many times before the store is taken for away. */
const SENDS = 3;
/** Where kept files lie in the bucket; what lies beside is uploads that are on their way. */
const FOLDER = 'files/';
/** An address that a browser may read a file at is good for so long. */
const SIGNED_SECONDS = 300;

/** Files in a bucket of an object store that speaks S3. */
export class ObjectHome implements FileHome {
  readonly name: string;

  constructor(
    private readonly client: S3Client,
    private readonly bucket: string,
  ) {
    this.name = `the bucket ${bucket}`;
  }

  async keep(path: string, sha256: string, bytes: number): Promise<void> {
    if ((await this.sizeOf(sha256)) === bytes) return;
    // What is read from a file can't be sent again by who sends it: it is read again here.
    for (let k = 1; ; k++)
      try {
        await this.send(path, sha256, bytes);
        break;
      } catch (error) {
        if (k === SENDS) throw error;
      }
    if ((await this.sizeOf(sha256)) !== bytes) throw new FilesAwayError('a file was not kept whole');
  }

  async has(sha256: string): Promise<boolean> {
    return (await this.sizeOf(sha256)) !== undefined;
  }

  async open(sha256: string, range?: ByteRange): Promise<Readable> {
    const { Body } = await asked(() =>
      this.client.send(
        new GetObjectCommand({
          Bucket: this.bucket,
          Key: keyOf(sha256),
          ...(range && { Range: `bytes=${range.start}-${range.end}` }),
        }),
      ),
    );
    return Body as Readable;
  }

  localPath(): undefined {
    return undefined;
  }

  async remove(sha256: string): Promise<void> {
    await asked(() => this.client.send(new DeleteObjectCommand({ Bucket: this.bucket, Key: keyOf(sha256) })));
  }

  async *list(): AsyncGenerator<KeptFile> {
    let ContinuationToken: string | undefined;
    do {
      const page = await asked(() =>
        this.client.send(new ListObjectsV2Command({ Bucket: this.bucket, Prefix: FOLDER, ContinuationToken })),
      );
      for (const { Key, LastModified } of page.Contents ?? [])
        yield { sha256: Key!.slice(FOLDER.length), at: LastModified?.getTime() ?? Infinity };
      ContinuationToken = page.NextContinuationToken;
    } while (ContinuationToken !== undefined);
  }

  async answers(): Promise<boolean> {
    return this.client.send(new HeadBucketCommand({ Bucket: this.bucket })).then(
      () => true,
      () => false,
    );
  }

  /** An address at which a browser reads a file for some minutes, to be saved under a name. */
  async signedAddress(sha256: string, disposition: string): Promise<string> {
    const command = new GetObjectCommand({
      Bucket: this.bucket,
      Key: keyOf(sha256),
      ResponseContentDisposition: disposition,
      ResponseContentType: 'application/octet-stream',
    });
    return getSignedUrl(this.client, command, { expiresIn: SIGNED_SECONDS });
  }

  private async send(path: string, sha256: string, bytes: number): Promise<void> {
    const target = { Bucket: this.bucket, Key: keyOf(sha256) };
    if (bytes <= PART_BYTES) {
      // The store refuses what is not the content of this hash.
      const content = { Body: await readFile(path), ContentLength: bytes, Metadata: { sha256 } };
      await asked(() => this.client.send(new PutObjectCommand({ ...target, ...content })));
      return;
    }
    const params = { ...target, Body: createReadStream(path) };
    await asked(() => new Upload({ client: this.client, params, partSize: PART_BYTES, queueSize: 2 }).done());
  }

  /** Bytes of a file; undefined where it is not there. */
  private async sizeOf(sha256: string): Promise<number | undefined> {
    try {
      const head = await asked(() =>
        this.client.send(new HeadObjectCommand({ Bucket: this.bucket, Key: keyOf(sha256) })),
      );
      return head.ContentLength;
    } catch (error) {
      if (error instanceof FileMissingError) return undefined;
      throw error;
    }
  }
}

const keyOf = (sha256: string): string => `${FOLDER}${sha256}`;
