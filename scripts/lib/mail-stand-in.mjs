import { mkdirSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { simpleParser } from 'mailparser';
import { SMTPServer } from 'smtp-server';

/**
 * A mail server on the loopback that sends nothing on: each message becomes a file of a folder, 0001.json and so on, with whom it is to, what it is about
 * and its text.
 *
 * @param {string} folder where they are put
 * @returns the address it is reached at (`SMTP_URL`), and how to end it
 */
export async function startMailStandIn(folder) {
  mkdirSync(folder, { recursive: true });
  let count = 0;
  const server = new SMTPServer({
    authOptional: true,
    disabledCommands: ['STARTTLS', 'AUTH'],
    async onData(stream, _, done) {
      try {
        const { to, subject, text } = await simpleParser(stream);
        const file = `${String(++count).padStart(4, '0')}.json`;
        writeFileSync(join(folder, file), JSON.stringify({ to: to.text, subject, text }));
        done();
      } catch (error) {
        done(error);
      }
    },
  });
  await new Promise((resolve) => server.listen(0, '127.0.0.1', resolve));
  return {
    address: `smtp://127.0.0.1:${server.server.address().port}`,
    stop: () => new Promise((resolve) => server.close(resolve)),
  };
}
