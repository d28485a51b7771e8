// Passkeys (W3C *Web Authentication*, level 3): made, signed in with, and refused where an answer is another’s, comes twice, or was given elsewhere.
import { createHash, generateKeyPairSync, randomBytes, sign } from 'node:crypto';
import request from 'supertest';
import { HEADER, openSchool, type School } from './harness.ts';

const HOME = 'https://desk.saltwick.example';
let school: School;
beforeAll(async () => void (school = await openSchool({ PROCESS: 'server', PUBLIC_URL: HOME })));
afterAll(() => school.close());

const sha256 = (data: string | Buffer): Buffer => createHash('sha256').update(data).digest();
const head = (major: number, size: number): Buffer =>
  size < 24
    ? Buffer.from([(major << 5) | size])
    : size < 256
      ? Buffer.from([(major << 5) | 24, size])
      : Buffer.from([(major << 5) | 25, size >> 8, size & 255]);
/** Text and bytes as IETF RFC 8949 (CBOR) writes them. */
const text = (value: string): Buffer => Buffer.concat([head(3, value.length), Buffer.from(value)]);
const bytes = (value: Buffer): Buffer => Buffer.concat([head(2, value.length), value]);

interface Asked {
  readonly challenge: string;
}
interface Elsewhere {
  readonly origin?: string;
  readonly host?: string;
  /** Whether it has made sure of who uses it. */
  readonly verified?: boolean;
}

/** What keeps a key: a telephone, in short. Its key is of ES256 (IETF RFC 9053), and it says nothing of where it was made (“none”). */
class Authenticator {
  private readonly keys = generateKeyPairSync('ec', { namedCurve: 'P-256' });
  private readonly id = randomBytes(16);
  counter = 0;

  private data(
    flags: number,
    { host = 'desk.saltwick.example', verified = true }: Elsewhere,
    more = Buffer.alloc(0),
  ): Buffer {
    const counter = Buffer.alloc(4);
    counter.writeUInt32BE(++this.counter);
    // User present, user verified, and what else there is (level 3, 6.1).
    return Buffer.concat([sha256(host), Buffer.from([1 | (verified ? 4 : 0) | flags]), counter, more]);
  }

  private said(type: string, { challenge }: Asked, { origin = HOME }: Elsewhere): Buffer {
    return Buffer.from(JSON.stringify({ type, challenge, origin, crossOrigin: false }));
  }

  make(asked: Asked, elsewhere: Elsewhere = {}): object {
    const { x, y } = this.keys.publicKey.export({ format: 'jwk' });
    const key = Buffer.concat([
      Buffer.from([0xa5, 1, 2, 3, 0x26, 0x20, 1, 0x21]),
      bytes(Buffer.from(x!, 'base64url')),
      Buffer.from([0x22]),
      bytes(Buffer.from(y!, 'base64url')),
    ]);
    const about = Buffer.concat([Buffer.alloc(16), Buffer.from([0, this.id.length]), this.id, key]);
    const attestation = Buffer.concat([
      ...[Buffer.from([0xa3]), text('fmt'), text('none'), text('attStmt'), Buffer.from([0xa0])],
      ...[text('authData'), bytes(this.data(0x40, elsewhere, about))],
    ]);
    return this.answer({
      clientDataJSON: this.said('webauthn.create', asked, elsewhere).toString('base64url'),
      attestationObject: attestation.toString('base64url'),
      transports: ['internal'],
    });
  }

  use(asked: Asked, elsewhere: Elsewhere = {}): object {
    const [data, said] = [this.data(0, elsewhere), this.said('webauthn.get', asked, elsewhere)];
    return this.answer({
      clientDataJSON: said.toString('base64url'),
      authenticatorData: data.toString('base64url'),
      signature: sign('sha256', Buffer.concat([data, sha256(said)]), this.keys.privateKey).toString('base64url'),
    });
  }

  private answer(response: object): object {
    const id = this.id.toString('base64url');
    return { response: { id, rawId: id, type: 'public-key', clientExtensionResults: {}, response } };
  }
}

const asked = async (post: (path: string) => request.Test, path: string): Promise<Asked> =>
  (await post(path).expect(200)).body.options as Asked;
const anybody = () => {
  const agent = request.agent(school.app.getHttpServer());
  return {
    question: () => asked((path) => agent.post(path).set(HEADER), '/api/session/passkey/question'),
    signIn: (answer: object) => agent.post('/api/session/passkey').set(HEADER).send(answer),
    session: async () => (await agent.get('/api/session').expect(200)).body.person as { name: string } | null,
  };
};
async function given(name: string): Promise<Authenticator> {
  const own = new Authenticator();
  const visitor = await school.as(name);
  const question = await asked((path) => visitor.post(path), '/api/account/passkeys/question');
  await visitor.post('/api/account/passkeys', { name: 'A telephone', ...own.make(question) }).expect(200);
  return own;
}

test('a key is made, and signs its owner in; it is listed with when it was used, and removed', async () => {
  const own = await given('Ottoline Farrow');
  const browser = anybody();
  const answer = await browser.signIn(own.use(await browser.question())).expect(200);
  expect(answer.body.person.name).toBe('Ottoline Farrow');
  expect((await browser.session())!.name).toBe('Ottoline Farrow');
  const ottoline = await school.as('Ottoline Farrow');
  const { body } = await ottoline.get('/api/account/passkeys').expect(200);
  expect(body).toMatchObject([{ name: 'A telephone', usedAt: expect.any(String) }]);
  const baraka = await school.as('Baraka Lundqvist');
  await baraka.delete(`/api/account/passkeys/${body[0].id}`).expect(404);
  expect((await ottoline.delete(`/api/account/passkeys/${body[0].id}`).expect(200)).body).toEqual([]);
  expect((await browser.signIn(own.use(await browser.question()))).status).toBe(401);
});

test('a second factor is not asked for besides: the key has made sure itself; one that has not is refused', async () => {
  const own = await given('Baraka Lundqvist');
  const browser = anybody();
  expect((await browser.signIn(own.use(await browser.question(), { verified: false }))).status).toBe(401);
  expect(await browser.session()).toBeNull();
});

test.each<[string, (own: Authenticator, browser: ReturnType<typeof anybody>) => Promise<object>]>([
  ['to a question that was never asked', async (own) => own.use({ challenge: randomBytes(32).toString('base64url') })],
  [
    'given at another address',
    async (own, browser) => own.use(await browser.question(), { origin: 'https://desk.saltwick.example.net' }),
  ],
  [
    'of a key for another name',
    async (own, browser) => own.use(await browser.question(), { host: 'elsewhere.example' }),
  ],
  [
    'signed by another',
    async (own, browser) => {
      const question = await browser.question();
      const [right, wrong] = [own.use(question), new Authenticator().use(question)] as {
        response: { response: object };
      }[];
      return {
        response: {
          ...right!.response,
          response: {
            ...right!.response.response,
            signature: (wrong!.response.response as { signature: string }).signature,
          },
        },
      };
    },
  ],
  ['of a key that nobody has', async (_, browser) => new Authenticator().use(await browser.question())],
  ['that is no answer', async () => ({ response: { id: 'x', response: {} } })],
])('an answer %s signs nobody in', async (_, make) => {
  const own = await given('Ottoline Farrow');
  const browser = anybody();
  const refused = await browser.signIn(await make(own, browser));
  expect([refused.status, refused.body.type]).toEqual([401, 'passkey-refused']);
  expect(await browser.session()).toBeNull();
});

test('an answer is taken once, and one from a copy of a key, which counts behind, is not', async () => {
  const own = await given('Ottoline Farrow');
  const answer = own.use(await anybody().question());
  await anybody().signIn(answer).expect(200);
  expect((await anybody().signIn(answer)).status).toBe(401);
  own.counter = 0;
  expect((await anybody().signIn(own.use(await anybody().question()))).status).toBe(401);
});

test('a question asked of one is not answered by another, and a key is kept for one person', async () => {
  const [ottoline, baraka] = [await school.as('Ottoline Farrow'), await school.as('Baraka Lundqvist')];
  const hers = await asked((path) => ottoline.post(path), '/api/account/passkeys/question');
  const own = new Authenticator();
  const refused = await baraka.post('/api/account/passkeys', { name: 'A telephone', ...own.make(hers) });
  expect([refused.status, refused.body.type]).toEqual([401, 'passkey-refused']);
  // Nor is a question for signing in answered by making a key.
  const signing = await anybody().question();
  expect((await baraka.post('/api/account/passkeys', { name: 'A telephone', ...own.make(signing) })).status).toBe(401);
});

test('no form of another site signs anybody in', async () => {
  const own = await given('Ottoline Farrow');
  const answer = own.use(await anybody().question());
  const sent = await request(school.app.getHttpServer()).post('/api/session/passkey').send(answer);
  expect([sent.status, sent.body.type]).toEqual([403, 'header-missing']);
});

test('students have none, whoever has left signs in no more, and a server called by a number has none', async () => {
  const jomo = await school.as('Jomo Wanyama');
  await jomo.get('/api/account/passkeys').expect(403);
  const own = await given('Baraka Lundqvist');
  await school.database.query(`UPDATE people SET archived_at = now() WHERE name = 'Baraka Lundqvist'`);
  expect((await anybody().signIn(own.use(await anybody().question()))).status).toBe(401);
  await school.database.query(`UPDATE people SET archived_at = NULL WHERE name = 'Baraka Lundqvist'`);
  const unnamed = await openSchool({ PROCESS: 'server' });
  try {
    const answer = await request(unnamed.app.getHttpServer()).post('/api/session/passkey/question').set(HEADER);
    expect([answer.status, answer.body.title]).toEqual([409, 'Passkeys need a name in the address.']);
  } finally {
    await unnamed.close();
  }
});
