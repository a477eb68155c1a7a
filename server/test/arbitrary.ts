import fc from 'fast-check';
import { z } from 'zod';

/** The parts of JSON Schema that Zod writes for the schemas of the contract. */
interface JsonSchema {
  readonly type?: string;
  readonly format?: string;
  readonly pattern?: string;
  readonly const?: unknown;
  readonly enum?: readonly unknown[];
  readonly anyOf?: readonly JsonSchema[];
  readonly oneOf?: readonly JsonSchema[];
  readonly allOf?: readonly JsonSchema[];
  readonly items?: JsonSchema;
  readonly minItems?: number;
  readonly maxItems?: number;
  readonly minLength?: number;
  readonly maxLength?: number;
  readonly minimum?: number;
  readonly maximum?: number;
  readonly properties?: Readonly<Record<string, JsonSchema>>;
  readonly required?: readonly string[];
  readonly additionalProperties?: JsonSchema | boolean;
}

/** Words that have broken programs before: signs of SQL, paths, patterns and markup, odd letters, emptiness. */
const HOSTILE = [
  ...[
    '',
    ' ',
    '0',
    '-1',
    'null',
    "'",
    '"; drop table folders; --',
    '%',
    '_',
    '\\',
    '../../etc/passwd',
  ],
  ...[
    '\u0000',
    '\u202egnp.exe',
    '\ud800',
    'ß',
    'İ',
    '＜script＞',
    '<b>',
    '{{x}}',
    '${x}',
    'a'.repeat(500),
  ],
  ...[
    '- '.repeat(60),
    '-'.repeat(36),
    'placement.' + '-'.repeat(36),
    'folder.,placement.',
    '🌱',
    '=1+1',
    '\r\n',
  ],
];
const DAYS = ['0000-01-01', '0001-01-01', '1969-12-31', '2024-02-29', '2026-11-28', '9999-12-31'];
const INSTANTS = DAYS.map((day) => `${day}T23:59:59.999Z`);

const text = fc.oneof(
  fc.constantFrom(...HOSTILE),
  fc.string({ maxLength: 40 }),
  fc.string({ unit: 'binary', maxLength: 20 }),
);

/**
 * What somebody might send where a schema of the contract stands: what it allows, at its edges and with words that are
 * hard to swallow; `ids` are of things that are there. Fewer than a hundred in a list.
 */
export function sendable(schema: z.ZodType, ids: readonly string[]): fc.Arbitrary<unknown> {
  return of(z.toJSONSchema(schema, { io: 'input', unrepresentable: 'any' }) as JsonSchema, ids);
}

function of(schema: JsonSchema, ids: readonly string[]): fc.Arbitrary<unknown> {
  if (schema.const !== undefined) return fc.constant(schema.const);
  if (schema.enum) return fc.constantFrom(...schema.enum);
  const several = schema.anyOf ?? schema.oneOf;
  if (several) return fc.oneof(...several.map((one) => of(one, ids)));
  if (schema.allOf)
    return fc
      .tuple(...schema.allOf.map((one) => of(one, ids)))
      .map((parts) => Object.assign({}, ...parts) as unknown);
  switch (schema.type) {
    case 'string':
      return ofString(schema, ids);
    case 'integer':
    case 'number': {
      const [min, max] = [schema.minimum ?? -1e9, schema.maximum ?? 1e9];
      const edges = fc.constantFrom(min, max, Math.min(Math.max(0, min), max));
      return fc.oneof(edges, fc.integer({ min: Math.ceil(min), max: Math.floor(max) }));
    }
    case 'boolean':
      return fc.boolean();
    case 'null':
      return fc.constant(null);
    case 'array': {
      const minLength = schema.minItems ?? 0;
      return fc.array(of(schema.items ?? {}, ids), {
        minLength,
        maxLength: Math.max(minLength, Math.min(schema.maxItems ?? 8, 8)),
      });
    }
    case 'object':
      return ofObject(schema, ids);
    default:
      return fc.oneof(text, fc.integer(), fc.boolean(), fc.constant(null), fc.constantFrom(...ids));
  }
}

function ofString(schema: JsonSchema, ids: readonly string[]): fc.Arbitrary<string> {
  const { format, pattern, minLength = 0, maxLength = 400 } = schema;
  if (format === 'uuid')
    return fc.oneof(
      { weight: 4, arbitrary: fc.constantFrom(...ids) },
      { weight: 1, arbitrary: fc.uuid() },
    );
  if (format === 'date') return fc.constantFrom(...DAYS);
  if (format === 'date-time') return fc.constantFrom(...INSTANTS);
  if (format === 'uri')
    return fc.constantFrom(
      'https://school.example/',
      'http://a.example/%00',
      `https://a.example/${'x'.repeat(1900)}`,
    );
  if (format === 'email')
    return fc.constantFrom(
      'owner@example.org',
      'nobody@example.org',
      `${'x'.repeat(60)}@example.org`,
    );
  if (pattern) return fc.stringMatching(new RegExp(pattern, 'u'));
  return text.map((given) => given.padEnd(minLength, 'x').slice(0, maxLength));
}

function ofObject(schema: JsonSchema, ids: readonly string[]): fc.Arbitrary<unknown> {
  const entries = Object.entries(schema.properties ?? {});
  const required = new Set(schema.required);
  const named = fc.record(
    Object.fromEntries(entries.map(([key, value]) => [key, of(value, ids)])),
    { requiredKeys: entries.flatMap(([key]) => (required.has(key) ? [key] : [])) },
  );
  if (typeof schema.additionalProperties !== 'object') return named;
  return fc.dictionary(
    text.filter((x) => x !== ''),
    of(schema.additionalProperties, ids),
    { maxKeys: 4 },
  );
}
