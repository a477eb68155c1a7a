import type { PlacedUpload, TrayAnswer } from '@sammlung/contract';
import type { Upload } from 'tus-js-client';
import { shallowReactive } from 'vue';

type TransferState = 'waiting' | 'sending' | 'placing' | 'done' | 'failed' | 'stopped' | 'lost';
/** Stands for the tray, where a file goes into no folder. */
export const TRAY = 'tray';
export type IntoFolder = { readonly id: string; readonly title: string };

/** One file on its way into a folder. */
export interface Transfer {
  readonly id: number;
  readonly name: string;
  /** In bytes. */
  readonly size: number;
  readonly lastModified: number;
  /** Null after a reload, when it was too large to be kept: it has to be chosen again. */
  file: File | null;
  readonly folder: IntoFolder;
  /** What was added together has one of these in common. */
  readonly batch: string;
  /** What was decided about it already, for the tray. */
  readonly answer?: TrayAnswer;
  state: TransferState;
  /** Bytes that have arrived. */
  sent: number;
  error: unknown;
  result: PlacedUpload | null;
  upload: Upload | null;
}

let count = 0;

/** A transfer that has not begun. */
export function newTransfer(
  given: Pick<Transfer, 'name' | 'size' | 'lastModified' | 'file' | 'folder' | 'batch' | 'answer'>,
  state: TransferState = 'waiting',
): Transfer {
  count += 1;
  return shallowReactive({
    ...given,
    id: count,
    state,
    sent: 0,
    error: null,
    result: null,
    upload: null,
  });
}

/** By this a file on its way is known again after a reload. */
export const transferKey = ({
  folder,
  name,
  size,
  lastModified,
}: Pick<Transfer, 'folder' | 'name' | 'size' | 'lastModified'>) =>
  ['sammlung', folder.id, name, size, lastModified].join('/');

const BUSY: readonly TransferState[] = ['waiting', 'sending', 'placing'];
export const isBusy = ({ state }: Transfer) => BUSY.includes(state);

/** What became of a file that went into the tray, where it has this id: nothing else can be decided about it here. */
export const inTray = ({ name }: Transfer, id: string): PlacedUpload => ({
  ...{ uploadId: id, placementId: null, outcome: 'new', version: 1 },
  ...{ name, renamed: false, alsoIn: [] },
});
