import type { AddressInfo } from 'node:net';
import { simpleParser, type AddressObject } from 'mailparser';
import { SMTPServer } from 'smtp-server';
import type { Database } from '../db/database.ts';
import { postRoom } from '../db/schema/index.ts';

/** An address that the stand-in refuses for good, to try what happens then. */
export const REFUSED = /^refused[.@+]/iu;

/** A mail server on loopback that delivers nowhere: what it takes in is laid in the post room. */
export async function startMailServer(
  db: Database,
  note: (error: unknown) => void,
  port = 0,
): Promise<{ url: string; stop(): Promise<void> }> {
  const server = new SMTPServer({
    authOptional: true,
    disabledCommands: ['STARTTLS', 'AUTH'],
    size: 5_000_000,
    closeTimeout: 200,
    onRcptTo({ address }, _session, done) {
      if (!REFUSED.test(address)) return done();
      const refusal = Object.assign(new Error('No such mailbox here'), { responseCode: 550 });
      return done(refusal);
    },
    onData(stream, session, done) {
      keep(
        db,
        stream,
        session.envelope.rcptTo.map((to) => to.address),
      ).then(
        () => done(),
        (error: Error) => {
          note(error);
          done(error);
        },
      );
    },
  });
  server.on('error', note);
  await new Promise<void>((resolve) => server.listen(port, '127.0.0.1', resolve));
  const { port: at } = server.server.address() as AddressInfo;
  return {
    url: `smtp://127.0.0.1:${at}`,
    stop: () => new Promise<void>((resolve) => server.close(() => resolve())),
  };
}

async function keep(db: Database, stream: NodeJS.ReadableStream, recipients: readonly string[]) {
  const mail = await simpleParser(stream as Parameters<typeof simpleParser>[0]);
  const named = (to: AddressObject | AddressObject[] | undefined) =>
    [to]
      .flat()
      .flatMap((part) => part?.text ?? [])
      .join(', ');
  await db.insert(postRoom).values(
    recipients.map((recipient) => ({
      sender: named(mail.from),
      recipient: named(mail.to) || recipient,
      subject: mail.subject ?? '',
      body: mail.text ?? '',
    })),
  );
}
