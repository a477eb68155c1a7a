import type { FastifyReply } from 'fastify';
import { takeOver } from '../take-over.ts';

/** An open page's line: events go out on it until one side ends it (server-sent events, HTML standard). */
export interface Stream {
  /** Sends an event with data that is JSON already. A page that does not take what it is sent is cut off. */
  send(event: string, json: string): void;
  end(): void;
  readonly ended: Promise<void>;
}

/** What may wait for a page that does not read, in bytes; beyond it the page has to come again. */
const WAITING = 4 << 20;

export function openStream(reply: FastifyReply): Stream {
  const raw = takeOver(reply);
  raw.writeHead(200, {
    'content-type': 'text/event-stream; charset=utf-8',
    'cache-control': 'no-store',
    // Some servers in front gather replies before they pass them on.
    'x-accel-buffering': 'no',
  });
  raw.write('retry: 2000\n\n');
  return {
    send(event, json) {
      // Whoever tells many pages something may come to one whose line has just been ended.
      if (raw.writableEnded) return;
      if (raw.writableLength > WAITING) raw.destroy();
      else raw.write(`event: ${event}\ndata: ${json}\n\n`);
    },
    end: () => void raw.end(),
    ended: new Promise((resolve) => raw.once('close', () => resolve())),
  };
}
