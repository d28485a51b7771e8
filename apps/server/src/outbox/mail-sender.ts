import { Inject, Injectable, Logger, type OnApplicationBootstrap, type OnModuleDestroy } from '@nestjs/common';
import { createTransport, type Transporter } from 'nodemailer';
import { CONFIGURATION, type Configuration } from '../config.ts';
import { Database } from '../database/database.module.ts';
import { Loops } from '../loops.ts';

export const MAIL = Object.freeze({
  /** Between looks for messages that are due, milliseconds. */
  idleMs: 2_000,
  /** A message that can't be handed over is tried so often, first after so many seconds, then twice as long each time: over two days. */
  tries: 12,
  firstPauseSeconds: 60,
  /** What a mail server may take to answer, milliseconds. */
  answerMs: 30_000,
});

interface Due {
  readonly id: string;
  readonly address: string;
  readonly subject: string;
  readonly text: string;
  readonly link: string | null;
  readonly tries: number;
}

/**
 * Hands the messages of the outbox over to a mail server by SMTP (IETF RFC 5321). Several processes send side by side: each message is claimed by one,
 * and is due again where that one dies before it has been handed over. A message sent twice so keeps one identity, by which mail programs know it.
 */
@Injectable()
export class MailSender implements OnApplicationBootstrap, OnModuleDestroy {
  private readonly logger = new Logger(MailSender.name);
  private readonly loops = new Loops(MailSender.name);
  private readonly transport: Transporter;

  constructor(
    private readonly database: Database,
    @Inject(CONFIGURATION) private readonly configuration: Configuration,
  ) {
    const { SMTP_URL } = configuration;
    const limits = { connectionTimeout: MAIL.answerMs, greetingTimeout: MAIL.answerMs, socketTimeout: MAIL.answerMs };
    this.transport = createTransport({ url: SMTP_URL!, ...limits });
  }

  onApplicationBootstrap(): void {
    this.loops.add('messages that are to be sent', MAIL.idleMs, () => this.next());
  }

  async onModuleDestroy(): Promise<void> {
    await this.loops.end();
    this.transport.close();
  }

  /** Sends the message that has been due longest. @returns whether there was one */
  private async next(): Promise<boolean> {
    const [due] = await this.database.select<Due>(
      `UPDATE outbox SET tries = tries + 1, due_at = now() + make_interval(secs => $1 * 2 ^ tries)
        WHERE id = (SELECT id FROM outbox WHERE due_at <= now() AND sent_at IS NULL AND given_up IS NULL
                     ORDER BY due_at LIMIT 1 FOR UPDATE SKIP LOCKED)
        RETURNING id::text, address, subject, text, link, tries`,
      [MAIL.firstPauseSeconds],
    );
    if (!due) return false;
    const { id, address, subject, text, link, tries } = due;
    const { MAIL_FROM: from } = this.configuration;
    try {
      await this.transport.sendMail({
        ...{ from, to: address, subject, messageId: `<outbox-${id}@${/@([^>\s]+)/.exec(from)![1]!}>` },
        text: link === null ? `${text}\n` : `${text}\n\n${link}\n`,
        // Nobody's holiday answers it (IETF RFC 3834).
        headers: { 'Auto-Submitted': 'auto-generated' },
      });
    } catch (error) {
      const { responseCode = 0, message } = error as Error & { responseCode?: number };
      this.logger.warn(`message ${id}, try ${tries}: ${message}`);
      if (responseCode >= 500 || tries >= MAIL.tries) await this.end(id, message.slice(0, 300));
      return true;
    }
    await this.end(id, null);
    return true;
  }

  /** An address that sets a password is kept no longer than it is needed. */
  private end(id: string, givenUp: string | null): Promise<void> {
    return this.database.run(
      `UPDATE outbox SET sent_at = CASE WHEN $2::text IS NULL THEN now() END, given_up = $2,
              link = CASE WHEN about = 'password forgotten' THEN NULL ELSE link END WHERE id = $1::bigint`,
      [id, givenUp],
    );
  }
}
