import { execFileSync } from 'node:child_process';
import { createHash } from 'node:crypto';
import { mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { afterAll, describe, expect, it } from 'vitest';
import {
  SAMPLE_LIBRARY,
  sampleYears,
  STUDENTS,
  type SampleFile,
  type SampleFolder,
} from '../src/index.ts';

const folder = mkdtempSync(join(tmpdir(), 'sammlung-demo-'));
afterAll(() => rmSync(folder, { recursive: true, force: true }));

const filesIn = (f: SampleFolder): SampleFile[] => [
  ...(f.entries ?? []).filter((e): e is SampleFile => e.kind === 'file'),
  ...(f.folders ?? []).flatMap(filesIn),
];
const files = SAMPLE_LIBRARY.flatMap(filesIn);
const digest = (bytes: Uint8Array) => createHash('sha256').update(bytes).digest('hex');

describe('the files of the sample school', () => {
  it.concurrent.each(files.map((file) => [file.name, file] as const))(
    '%s is the same each time',
    async (_, file) => {
      const make = file.versions.at(-1)!.make;
      const first = await make();
      expect(first.byteLength).toBeGreaterThan(100);
      // Clocks in archives have a step of two seconds.
      if (!file.name.endsWith('.jpg')) await new Promise((resolve) => setTimeout(resolve, 2100));
      expect(digest(await make())).toBe(digest(first));
      if (!file.name.endsWith('.pdf')) return;
      const locked = file.name.includes('locked');
      const path = join(folder, file.name);
      writeFileSync(path, first);
      if (locked)
        expect(() => execFileSync('pdfinfo', [path], { stdio: 'pipe' })).toThrow(/password/u);
      const open = locked ? ['-upw', 'fennmoor', path] : [path];
      expect(execFileSync('pdfinfo', open, { encoding: 'utf8' })).toMatch(/Pages:\s+[1-9]/u);
      const text = execFileSync('pdftotext', [...open, '-'], { encoding: 'utf8' }).replace(
        /\s+/gu,
        ' ',
      );
      expect(text).toContain(file.name.replace('.pdf', ''));
    },
  );

  it('come in several kinds, some with several pages, and each name once', () => {
    const kinds = new Set(files.map((f) => f.name.split('.').at(-1)));
    expect([...kinds].sort()).toEqual('csv docx heic jpg md mp4 pdf pptx txt wav xlsx'.split(' '));
    expect(new Set(files.map((f) => f.name)).size).toBe(files.length);
  });
});

describe('the people of the sample school', () => {
  it('are ninety students of different names and addresses, each in a class of the running year', () => {
    expect(new Set(STUDENTS.map((s) => s.name)).size).toBe(90);
    expect(new Set(STUDENTS.map((s) => s.email)).size).toBe(90);
    expect(STUDENTS.every((s) => /^[a-z.]+@fennmoor\.example$/u.test(s.email))).toBe(true);
    const running = sampleYears(2026).find((year) => !year.closed)!;
    const inClasses = new Set(running.courses.flatMap((c) => c.classes.flatMap((k) => k.students)));
    expect(STUDENTS.every((s) => inClasses.has(s))).toBe(true);
  });
});
