import { writeFileSync } from 'node:fs';

/** A reporter for Vitest that writes to `UNHANDLED_ERRORS` what went wrong outside of any test, as a JSON array of texts. */
export default class UnhandledErrors {
  onTestRunEnd(_modules, errors) {
    const texts = errors.map(({ name, message, stack }) => stack ?? `${name}: ${message}`);
    writeFileSync(process.env.UNHANDLED_ERRORS, JSON.stringify(texts));
  }
}
