import type { FolderDisplay, FolderOrder } from '@sammlung/contract';
import { reactive } from 'vue';

/** How readers have arranged single folders for themselves, until they leave the application. */
export const readingOrders = reactive<Record<string, FolderOrder>>({});
export const readingDisplays = reactive<Record<string, FolderDisplay>>({});
