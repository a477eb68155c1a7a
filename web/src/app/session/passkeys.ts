import type {
  PublicKeyCredentialCreationOptionsJSON,
  PublicKeyCredentialRequestOptionsJSON,
} from '@simplewebauthn/browser';

/** Whether the browser has passkeys at all; not known before scripts run. */
export const hasPasskeys = () => typeof PublicKeyCredential !== 'undefined';

/** What browsers say where whoever was asked gave none, or it took too long. */
const NONE = new Set(['NotAllowedError', 'AbortError']);

/** What a browser did; null where it was given no passkey. */
const unlessNone = async <T>(asked: Promise<T>): Promise<T | null> =>
  asked.catch((error: unknown) => {
    if (error instanceof Error && NONE.has(error.name)) return null;
    throw error;
  });

/** Asks for a passkey of this site; null where none is given. */
export async function askForPasskey(optionsJSON: PublicKeyCredentialRequestOptionsJSON) {
  const { startAuthentication } = await import('@simplewebauthn/browser');
  return unlessNone(startAuthentication({ optionsJSON }));
}

/** Has the browser make a passkey; null where that was given up, `there` where the device has one of this account already. */
export async function makePasskey(optionsJSON: PublicKeyCredentialCreationOptionsJSON) {
  const { startRegistration } = await import('@simplewebauthn/browser');
  try {
    return await unlessNone(startRegistration({ optionsJSON }));
  } catch (error) {
    if (error instanceof Error && error.name === 'InvalidStateError') return 'there';
    throw error;
  }
}
