import { shallowRef } from 'vue';

/** The browser's question whether to install the application; browsers that ask in their own way never have one. */
interface InstallQuestion extends Event {
  prompt(): Promise<unknown>;
}

const question = shallowRef<InstallQuestion | null>(null);
if (!import.meta.env.SSR) {
  window.addEventListener('beforeinstallprompt', (event) => {
    event.preventDefault();
    question.value = event as InstallQuestion;
  });
  window.addEventListener('appinstalled', () => (question.value = null));
}

/** Whether the application can be installed here, and how. */
export function useInstall() {
  async function install() {
    await question.value?.prompt();
    question.value = null;
  }
  return { question, install };
}
