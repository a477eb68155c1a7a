import { ref } from 'vue';
import { useI18n } from 'vue-i18n';
import { explain } from './api/problems.ts';

/**
 * What a form does when it is sent: `tried` runs it, once at a time (`busy`), and puts a refusal into words (`fault`), to
 * stand in the form. It resolves to whether all went well.
 */
export function useSubmit() {
  const { t } = useI18n();
  const fault = ref('');
  const busy = ref(false);

  async function tried(run: () => Promise<unknown>): Promise<boolean> {
    busy.value = true;
    fault.value = '';
    try {
      await run();
      return true;
    } catch (error) {
      fault.value = explain(t, error);
      return false;
    } finally {
      busy.value = false;
    }
  }

  return { fault, busy, tried };
}
