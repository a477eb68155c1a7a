import type { FolderOrder } from '@sammlung/contract';
import { reactive } from 'vue';

/** In which folders the reader has chosen another order than the teacher's, until the page is loaded anew. */
export const readingOrders: Record<string, FolderOrder> = reactive({});
