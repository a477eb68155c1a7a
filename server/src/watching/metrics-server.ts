import { createServer, type Server } from 'node:http';
import { once } from 'node:events';
import type { AddressInfo } from 'node:net';
import type { Registry } from 'prom-client';

/** Answers `/metrics` on a port of its own, which is not for the school. A figure that cannot be read fails the whole, as Prometheus expects. */
export async function startMetrics(
  registry: Registry,
  { port, host, note }: { port: number; host: string; note: (error: unknown) => void },
): Promise<{ address: string; stop: () => Promise<void> }> {
  const server: Server = createServer((request, response) => {
    if (request.method !== 'GET' || request.url !== '/metrics') {
      response.writeHead(404).end();
      return;
    }
    registry.metrics().then(
      (text) => response.writeHead(200, { 'content-type': registry.contentType }).end(text),
      (error: unknown) => {
        note(error);
        response.writeHead(500).end();
      },
    );
  });
  server.listen(port, host);
  await once(server, 'listening');
  const { port: at } = server.address() as AddressInfo;
  return {
    address: `http://${host}:${at}/metrics`,
    async stop() {
      server.closeAllConnections();
      server.close();
      await once(server, 'close');
    },
  };
}
