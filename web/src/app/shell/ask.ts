import { shallowRef } from 'vue';

/** A question that has to be answered before something is done. */
export interface Question {
  readonly title: string;
  readonly text: string;
  /** What the button for yes says. */
  readonly yes: string;
}

interface Asked extends Question {
  answer(yes: boolean): void;
}

/** The question on the screen. */
export const asked = shallowRef<Asked | null>(null);

/** Asks, and resolves to the answer; a question that is still open is answered with no. */
export function ask(question: Question): Promise<boolean> {
  asked.value?.answer(false);
  return new Promise((resolve) => {
    asked.value = {
      ...question,
      answer(yes) {
        asked.value = null;
        resolve(yes);
      },
    };
  });
}
