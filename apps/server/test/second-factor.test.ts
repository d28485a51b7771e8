// A second factor of those who teach: codes of a telephone, each taken once, and recovery codes.
import { createHmac } from 'node:crypto';
import request from 'supertest';
import { verify } from 'otplib';
import type { RecoveryCodes } from '@ypsigraph/contract/people';
import { runAdmin } from '../src/admin/admin.ts';
import { DEMO_PASSWORD } from '../src/demo/seed.ts';
import { openSchool, type School, type Visitor } from './harness.ts';

/** A telephone: IETF RFC 4226 (5.3, dynamic truncation) and RFC 6238 (a step every 30 seconds), written down here once more. */
function codeOf(secret: string, seconds: number, digits = 6): string {
  const letters = 'ABCDEFGHIJKLMNOPQRSTUVWXYZ234567';
  const bits = [...secret].map((letter) => letters.indexOf(letter).toString(2).padStart(5, '0')).join('');
  const key = Buffer.from(bits.match(/.{8}/g)!.map((byte) => parseInt(byte, 2)));
  const step = Buffer.alloc(8);
  step.writeBigUInt64BE(BigInt(Math.floor(seconds / 30)));
  const hash = createHmac('sha1', key).update(step).digest();
  const at = hash[19]! & 15;
  return String((hash.readUInt32BE(at) & 0x7fffffff) % 10 ** digits).padStart(digits, '0');
}
const now = (): number => Date.now() / 1000;

test('the telephone of these tests and the library make the codes of RFC 6238, appendix B', async () => {
  // The ASCII text 12345678901234567890 in base 32.
  const secret = 'GEZDGNBVGY3TQOJQGEZDGNBVGY3TQOJQ';
  for (const [seconds, code] of [
    [59, '94287082'],
    [1_111_111_109, '07081804'],
    [1_111_111_111, '14050471'],
    [1_234_567_890, '89005924'],
    [2_000_000_000, '69279037'],
    [20_000_000_000, '65353130'],
  ] as const) {
    expect(codeOf(secret, seconds, 8)).toBe(code);
    expect((await verify({ secret, token: code, epoch: seconds, digits: 8 })).valid).toBe(true);
  }
});

describe('in a school', () => {
  let school: School;
  let teacher: Visitor;
  let secret: string;
  let codes: string[];
  const EMAIL = 'ottoline.farrow@saltwick.example';
  beforeAll(async () => {
    school = await openSchool();
    teacher = await school.as('Ottoline Farrow');
  });
  afterAll(() => school.close());
  const signIn = (code?: string, password = DEMO_PASSWORD) =>
    request(school.app.getHttpServer())
      .post('/api/session')
      .set('x-ypsigraph', '1')
      .send({ email: EMAIL, password, ...(code !== undefined && { code }) });
  /** As if the last code had been taken long ago, and nobody had failed. */
  const later = async (): Promise<void> => {
    await school.database.query('UPDATE second_factors SET last_step = 0');
    await school.database.query('DELETE FROM failed_sign_ins');
  };

  test('it counts once a code has been made of it, and not before', async () => {
    expect((await teacher.get('/api/account/second-factor').expect(200)).body).toEqual({
      since: null,
      recoveryCodes: 0,
    });
    const first = (await teacher.post('/api/account/second-factor').expect(200)).body as { secret: string };
    const { body } = await teacher.post('/api/account/second-factor').expect(200);
    secret = body.secret as string;
    expect(secret).not.toBe(first.secret);
    expect(body.address).toBe(
      `otpauth://totp/Ypsigraph:${encodeURIComponent(EMAIL)}?secret=${secret}&issuer=Ypsigraph`,
    );
    await signIn().expect(200);
    // A code of the secret that was shown before is none of this one.
    await teacher.post('/api/account/second-factor/confirmed', { code: codeOf(first.secret, now()) }).expect(422);
    const confirmed = await teacher
      .post('/api/account/second-factor/confirmed', { code: codeOf(secret, now()).replace(/(...)/, '$1 ') })
      .expect(200);
    codes = (confirmed.body as RecoveryCodes).recoveryCodes;
    expect(codes).toHaveLength(10);
    expect(new Set(codes).size).toBe(10);
    for (const code of codes) expect(code).toMatch(/^[a-z2-9]{5}-[a-z2-9]{5}$/);
    await teacher.post('/api/account/second-factor').expect(409);
    const { rows } = await school.database.query(
      'SELECT secret, code_sha256 FROM second_factors NATURAL JOIN recovery_codes',
    );
    // Neither is kept so that somebody who has the database could use it.
    expect(JSON.stringify(rows)).not.toContain(secret);
    expect(rows.some(({ code_sha256: hash }) => codes.includes(hash as string))).toBe(false);
  });

  test('signing in asks for it, takes each code once, and of a clock that is half a minute off', async () => {
    await later();
    expect((await signIn().expect(401)).body.type).toBe('code-needed');
    expect((await signIn('', DEMO_PASSWORD).expect(401)).body.type).toBe('code-needed');
    // Who does not know the password learns nothing of it.
    expect((await signIn(codeOf(secret, now()), 'not the password').expect(401)).body.type).toBe('wrong-password');
    const code = codeOf(secret, now());
    await signIn(code).expect(200);
    expect((await signIn(code).expect(422)).body.type).toBe('wrong-code');
    await later();
    await signIn(codeOf(secret, now() - 30)).expect(200);
    await later();
    await signIn(codeOf(secret, now() + 120)).expect(422);
    await signIn(codeOf(secret, now() - 120)).expect(422);
  });

  test('a recovery code is taken once, however it is written; guessing is slowed down as it is for passwords', async () => {
    await later();
    await signIn(codes[0]!.toUpperCase().replace('-', ' ')).expect(200);
    await signIn(codes[0]).expect(422);
    expect((await teacher.get('/api/account/second-factor').expect(200)).body.recoveryCodes).toBe(9);
    await later();
    for (let k = 0; k < 5; k++) await signIn('000000').expect(422);
    await signIn('000000').expect(429);
    // The right one is not taken either while nobody may try.
    await signIn(codes[1]).expect(429);
    await later();
    await signIn(codes[1]).expect(200);
  });

  test('whoever sets a forgotten password is asked for it all the same', async () => {
    await later();
    const said: string[] = [];
    const log = jest.spyOn(console, 'log').mockImplementation((text: string) => void said.push(text));
    const url = new URL(process.env.TEST_DATABASE_URL!);
    url.pathname = `/${(school.database as unknown as { database: string }).database}`;
    const environment = { DATABASE_URL: url.href, FILES_DIR: school.files };
    try {
      expect(await runAdmin(['invite', EMAIL], environment)).toBe(0);
      const token = said.at(-1)!.trim().split('/').at(-1)!;
      const { body, headers } = await request(school.app.getHttpServer())
        .post(`/api/invitations/${token}`)
        .set('x-ypsigraph', '1')
        .send({ password: 'lamps along the quay' })
        .expect(200);
      expect(body).toEqual({ signedIn: false });
      expect(headers['set-cookie']).toBeUndefined();
      await signIn(undefined, 'lamps along the quay').expect(401);
      await signIn(codes[2], 'lamps along the quay').expect(200);
      // Who has lost both is let in by whoever runs the server.
      expect(await runAdmin(['drop-second-factor', EMAIL], environment)).toBe(0);
      expect(said.at(-1)).toContain('with the password alone');
      expect(await runAdmin(['drop-second-factor', EMAIL], environment)).toBe(0);
      expect(said.at(-1)).toContain('has no second factor');
      await signIn(undefined, 'lamps along the quay').expect(200);
    } finally {
      log.mockRestore();
    }
  });

  test('it is switched off, and other recovery codes are made, by a code alone', async () => {
    await later();
    teacher = await school.as('Ottoline Farrow');
    secret = ((await teacher.post('/api/account/second-factor').expect(200)).body as { secret: string }).secret;
    const first = await teacher
      .post('/api/account/second-factor/confirmed', { code: codeOf(secret, now()) })
      .expect(200);
    const [old] = (first.body as RecoveryCodes).recoveryCodes;
    await teacher.post('/api/account/second-factor/codes', { code: '123456' }).expect(422);
    await later();
    const anew = await teacher.post('/api/account/second-factor/codes', { code: codeOf(secret, now()) }).expect(200);
    const [one] = (anew.body as RecoveryCodes).recoveryCodes;
    await teacher.post('/api/account/second-factor/off', { code: old! }).expect(422);
    await teacher.post('/api/account/second-factor/off', { code: one! }).expect(200);
    expect((await teacher.get('/api/account/second-factor').expect(200)).body).toEqual({
      since: null,
      recoveryCodes: 0,
    });
    await signIn(undefined, 'lamps along the quay').expect(200);
  });

  test('students have none', async () => {
    const student = await school.as('Farid Qasemi');
    await student.get('/api/account/second-factor').expect(403);
    await student.post('/api/account/second-factor').expect(403);
  });
});
