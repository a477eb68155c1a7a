import { COMMON_ERRORS, ERRORS, ROUTES, type Route } from '@sammlung/contract';
import { afterAll, describe, expect, it } from 'vitest';
import { startServer } from './harness.ts';

const server = await startServer();
afterAll(() => server.stop());

interface Operation {
  parameters?: { name: string; in: string }[];
  requestBody?: { content: object };
  responses: Record<string, { description: string; content?: Record<string, unknown> }>;
}
interface Document {
  openapi: string;
  paths: Record<string, Record<string, Operation>>;
  components: { schemas: Record<string, unknown> };
}
const { openapi, paths, components } = await server.ask<Document>(
  'visitor without',
  'GET',
  '/api/openapi.json',
);
const described = Object.entries<Route>(ROUTES).map(([key, route]) => {
  const [method, path] = key.split(' ') as [string, string];
  const operation = paths[path.replaceAll(/:(\w+)/gu, '{$1}')]?.[method.toLowerCase()];
  return { key, route, operation };
});

describe('the description of the API', () => {
  it('is OpenAPI 3.1 and has each route of the contract, and no other', () => {
    expect(openapi).toBe('3.1.0');
    expect(described.filter(({ operation }) => !operation).map(({ key }) => key)).toEqual([]);
    expect(Object.values(paths).flatMap((path) => Object.keys(path))).toHaveLength(
      Object.keys(ROUTES).length,
    );
  });

  it('says of each what it takes, and what it answers with', () => {
    for (const { key, route, operation } of described) {
      const named = (where: string) =>
        (operation!.parameters ?? []).filter((p) => p.in === where).map(({ name }) => name);
      expect(named('path'), key).toEqual([...key.matchAll(/:(\w+)/gu)].map(([, name]) => name));
      expect(named('query'), key).toEqual(Object.keys(route.query?.shape ?? {}));
      expect(operation!.requestBody !== undefined, key).toBe(route.body !== undefined);
      const answers = Object.entries(operation!.responses);
      for (const code of [...COMMON_ERRORS, ...(route.errors ?? [])])
        expect(operation!.responses[ERRORS[code][0]]!.description, key).toContain(`\`${code}\``);
      expect(
        answers.some(([status]) => status.startsWith('2')),
        key,
      ).toBe(true);
    }
  });

  it('refers only to what it has', () => {
    const referred = JSON.stringify(paths).matchAll(/"#\/components\/schemas\/(\w+)"/gu);
    const names = new Set([...referred].map(([, name]) => name!));
    expect([...names].filter((name) => !(name in components.schemas))).toEqual([]);
    expect(names.size).toBeGreaterThan(50);
  });

  it('is a page to read, too', async () => {
    const page = await server.call('visitor without', 'GET', '/api-docs');
    expect(page.status).toBe(200);
    expect(await page.text()).toContain('Sammlung API');
  });
});
