import { z } from 'zod';
import { FolderParams, Id } from './common.ts';
import { Crumb } from './reading.ts';
import { media, type RouteMap } from './route.ts';
import { TrayAnswer } from './tray.ts';

/** What becomes of a file whose name is in the folder already. */
export const SameName = z.enum(['version', 'both', 'skip']);
export type SameName = z.infer<typeof SameName>;

/** What was added together: its files have one of these in common, and follow each other by name, however they arrive. */
const Batch = Id.optional();

/** Which finished upload becomes a file of the folder. Asking twice answers the same. */
export const PlaceUpload = z.object({
  uploadId: z.string().regex(/^[0-9a-f]{32}$/u),
  sameName: SameName.default('version'),
  batch: Batch,
});

export const PlacedUpload = z.object({
  /** By this it can still be decided otherwise. */
  uploadId: z.string(),
  /** Null when it was skipped. */
  placementId: Id.nullable(),
  /** `placed`: the same content lay in the library already, and now lies here too. */
  outcome: z.enum(['new', 'version', 'unchanged', 'placed', 'skipped']),
  /** Number of the version people get now. */
  version: z.number().int(),
  /** The name it is kept under. */
  name: z.string(),
  /** True when that is not the name it came with. */
  renamed: z.boolean(),
  /** Other folders of the library in which it lies. */
  alsoIn: z.array(Crumb),
});
export type PlacedUpload = z.infer<typeof PlacedUpload>;

/** Decides otherwise about a file that became the next version of another one. */
export const Instead = z.object({ choice: z.enum(['both', 'skip']) });
export const InsteadParams = z.object({ upload: z.string().max(80) });

const UploadId = z.string().regex(/^[0-9a-f]{32}$/u);
const Hash = z.string().regex(/^[0-9a-f]{64}$/u);

/** Looks, before anything is sent, whether a library has files of these sizes: then hashing them may save sending. */
export const LookUp = z.object({ sizes: z.array(z.number().int()).max(5000) });
export const LookedUp = z.object({ known: z.array(z.number().int()) });
export type LookedUp = z.infer<typeof LookedUp>;

/** Adds a file whose content lies in the library already, without sending it. 404 when it does not. */
export const Known = z.object({
  name: z.string().max(1000),
  hash: Hash,
  sameName: SameName.default('version'),
  batch: Batch,
});

/** A finished upload that comes into the tray; asking twice answers the same. */
export const IntoTray = z.object({
  uploadId: UploadId,
  /** What was decided about it before it came. */
  answer: TrayAnswer.optional(),
});
/** A file whose content the library has already, without sending it. */
export const KnownIntoTray = z.object({
  name: z.string().max(1000),
  hash: Hash,
  answer: TrayAnswer.optional(),
});
export const InTray = z.object({ id: Id });
export type InTray = z.infer<typeof InTray>;

/** What the server takes in, in bytes. */
export const IntakeLimits = z.object({
  uploadLimit: z.number().int(),
  used: z.number().int(),
  quota: z.number().int(),
});
export type IntakeLimits = z.infer<typeof IntakeLimits>;

export const UploadParams = z.object({ upload: z.string() });
/** By the tus protocol for uploads that can be resumed, 1.0.0. */
const CHUNK = media('application/offset+octet-stream');
const TUS = media();

/** Files on their way into a folder. */
export const INTAKE_ROUTES = {
  'GET /api/intake': {
    summary: 'How large files may be, and how much room is left.',
    reply: IntakeLimits,
  },
  'POST /api/intake/look': {
    summary: 'Which of some files the library has already, before they are uploaded.',
    body: LookUp,
    reply: LookedUp,
  },
  'POST /api/uploads': {
    summary: 'Begins an upload (tus 1.0).',
    reply: TUS,
    errors: [
      'empty-file',
      'file-name-empty',
      'file-too-large',
      'upload-refused',
      'disk-full',
      'too-many-uploads',
      'quota-full',
    ],
  },
  'HEAD /api/uploads/:upload': {
    summary: 'How much of an upload has arrived (tus 1.0).',
    params: UploadParams,
    reply: TUS,
  },
  'PATCH /api/uploads/:upload': {
    summary: 'Continues an upload (tus 1.0).',
    params: UploadParams,
    body: CHUNK,
    reply: TUS,
    errors: ['upload-refused', 'disk-full'],
  },
  'DELETE /api/uploads/:upload': {
    summary: 'Gives up an upload (tus 1.0).',
    params: UploadParams,
    reply: TUS,
  },
  'POST /api/folders/:folder/files': {
    summary: 'Puts a finished upload into a folder.',
    params: FolderParams,
    body: PlaceUpload,
    reply: PlacedUpload,
    errors: ['name-taken', 'already-here', 'file-name-empty', 'upload-unfinished', 'quota-full'],
  },
  'POST /api/folders/:folder/known': {
    summary: 'Puts a file into a folder whose content the library has already.',
    params: FolderParams,
    body: Known,
    reply: PlacedUpload,
    errors: ['name-taken', 'already-here', 'file-name-empty'],
  },
  'POST /api/tray': {
    summary: 'Puts a finished upload into the tray.',
    body: IntoTray,
    reply: InTray,
    errors: ['file-name-empty', 'upload-unfinished', 'quota-full', 'tray-full'],
  },
  'POST /api/tray/known': {
    summary: 'Puts a file into the tray whose content the library has already.',
    body: KnownIntoTray,
    reply: InTray,
    errors: ['file-name-empty', 'tray-full'],
  },
  'POST /api/placed/:upload': {
    summary:
      'Decides otherwise about a file that was just added: a new version, another name, or not at all.',
    params: InsteadParams,
    body: Instead,
    reply: PlacedUpload,
    errors: ['name-taken', 'already-here'],
  },
} as const satisfies RouteMap;
