import type { Language } from '@sammlung/contract';

/** What the server itself says to people, in mails and calendars. */
const en = {
  locale: 'en-GB',
  note: {
    subject: (title: string, sender: string) => `${title}, from ${sender}`,
    copy: (subject: string) => `Copy: ${subject}`,
    body: (title: string, sender: string) => `${sender} has handed out “${title}” to you.`,
    reminder: (title: string, sender: string) => `${sender} asks you to look at “${title}”.`,
    until: (when: string) => `You can open it until ${when}.`,
    here: 'Here it is:',
  },
  answer: {
    subject: (teacher: string) => `Your request to ${teacher}`,
    no: (teacher: string) =>
      `${teacher} has read your request. It stays with the people it was handed out to.`,
    yes: (title: string, teacher: string) =>
      `${teacher} has handed out “${title}” to you. Here it is:`,
  },
  invitation: {
    subject: (course: string, school: string) => `${course}: your account at ${school}`,
    body: (teacher: string, code: string, course: string, days: number) =>
      `${teacher} has added you to ${code}, ${course}. Choose a password here, and you will find everything ` +
      `that is handed out to you. The link works once, within ${days} days.`,
  },
  welcome: {
    subject: (school: string) => `Your account at ${school}`,
    body: (office: string, school: string, days: number) =>
      `${office} has given you an account at ${school}. Choose a password here. The link works once, within ${days} days.`,
  },
  password: {
    subject: (school: string) => `A new password for ${school}`,
    body: (hours: number) =>
      `Someone, probably you, asked for a new password. Choose it here. The link works once, within ${hours} hours. ` +
      `If it was not you, you need do nothing.`,
  },
  account: {
    subject: (school: string) => `A new email address for ${school}`,
    confirm: (name: string, hours: number) =>
      `${name} wants to get emails at this address, and to sign in by it. Open this link to confirm it. It works once, within ${hours} hours. ` +
      `If that is not you, you need do nothing.`,
    taken:
      'Somebody wanted to use this address for their account, but it already belongs to one. Nothing was changed. If that was you: sign in by this address.',
    told: (school: string) => `Your account at ${school}`,
    toldBody: {
      password:
        'Your password was changed. All other sessions and passwords for programs have ended.',
      'second-step-on': 'Signing in takes a second step from now on.',
      'second-step-off': 'Signing in takes no second step any more.',
      passkey: 'A passkey was added: your account can be signed in to with it alone.',
      'passkey-removed': 'A passkey was removed from your account.',
    },
    notYou: 'If you did not do that, tell the office straight away.',
    changed: (school: string) => `Your email address for ${school} was changed`,
    changedBody: (school: string) =>
      `From now on emails of ${school} go to another address, and you sign in by it.`,
  },
  held: { records: 'Records about you' },
  /** What is read in place of the name of somebody who was erased. */
  erased: 'Erased account',
  digest: {
    one: (title: string) => `New: ${title}`,
    many: (count: number, school: string) => `${count} new at ${school}`,
    more: (count: number) => `and ${count} more`,
    remarks: (count: number, title: string, box: string) =>
      `${count === 1 ? '1 remark' : `${count} remarks`} about ${title} (${box})`,
    end: 'You can see it all here, and stop these emails there too:',
  },
  calendar: {
    out: (title: string) => `${title} goes out`,
    ends: (title: string) => `${title} ends`,
  },
};
export type Words = typeof en;

const de: Words = {
  locale: 'de',
  note: {
    subject: (title, sender) => `${title}, von ${sender}`,
    copy: (subject) => `Kopie: ${subject}`,
    body: (title, sender) => `${sender} hat „${title}“ ausgeteilt.`,
    reminder: (title, sender) => `${sender} bittet dich, „${title}“ anzusehen.`,
    until: (when) => `Es ist bis ${when} da.`,
    here: 'Hier ist es:',
  },
  answer: {
    subject: (teacher) => `Deine Bitte an ${teacher}`,
    no: (teacher) =>
      `${teacher} hat deine Bitte gelesen. Es bleibt bei denen, für die es ausgeteilt ist.`,
    yes: (title, teacher) => `${teacher} hat „${title}“ für dich ausgeteilt. Hier ist es:`,
  },
  invitation: {
    subject: (course, school) => `${course}: dein Zugang bei ${school}`,
    body: (teacher, code, course, days) =>
      `${teacher} hat dich in ${code}, ${course}, eingetragen. Wähle hier ein Passwort, dann findest du alles, was ` +
      `für dich ausgeteilt ist. Der Link gilt einmal, ${days} Tage lang.`,
  },
  welcome: {
    subject: (school) => `Dein Zugang bei ${school}`,
    body: (office, school, days) =>
      `${office} hat dir einen Zugang bei ${school} eingerichtet. Wähle hier ein Passwort. Der Link gilt einmal, ${days} Tage lang.`,
  },
  password: {
    subject: (school) => `Ein neues Passwort für ${school}`,
    body: (hours) =>
      `Für diese Adresse wurde ein neues Passwort angefordert. Hier lässt es sich wählen. Der Link gilt ` +
      `einmal, ${hours} Stunden lang. Hat das jemand anderes getan, ist nichts weiter nötig.`,
  },
  account: {
    subject: (school) => `Eine neue E-Mail-Adresse für ${school}`,
    confirm: (name, hours) =>
      `${name} möchte unter dieser Adresse E-Mails bekommen und sich damit anmelden. Dieser Link bestätigt sie. Er gilt einmal, ${hours} Stunden lang. ` +
      `Ist das jemand anderes, ist nichts weiter nötig.`,
    taken:
      'Jemand wollte diese Adresse für einen Zugang verwenden, sie gehört aber schon zu einem. Es wurde nichts geändert. Zum Anmelden diese Adresse verwenden.',
    told: (school) => `Dein Zugang bei ${school}`,
    toldBody: {
      password:
        'Dein Passwort wurde geändert. Alle anderen Sitzungen und Passwörter für Programme sind beendet.',
      'second-step-on': 'Ab jetzt gehört zur Anmeldung ein zweiter Schritt.',
      'second-step-off': 'Zur Anmeldung gehört kein zweiter Schritt mehr.',
      passkey:
        'Ein Passkey wurde hinzugefügt: Mit ihm allein kann man sich an deinem Konto anmelden.',
      'passkey-removed': 'Ein Passkey wurde aus deinem Konto entfernt.',
    },
    notYou: 'Wenn das nicht du warst, sag es sofort dem Büro.',
    changed: (school) => `Deine E-Mail-Adresse für ${school} wurde geändert`,
    changedBody: (school) =>
      `Ab jetzt gehen E-Mails von ${school} an eine andere Adresse, und die Anmeldung läuft über sie.`,
  },
  held: { records: 'Daten über dich' },
  erased: 'Gelöschtes Konto',
  digest: {
    one: (title) => `Neu: ${title}`,
    many: (count, school) => `${count} neu bei ${school}`,
    more: (count) => `und ${count} weitere`,
    remarks: (count, title, box) =>
      `${count === 1 ? '1 Anmerkung' : `${count} Anmerkungen`} zu ${title} (${box})`,
    end: 'Alles steht hier. Dort lassen sich diese Mails auch beenden:',
  },
  calendar: {
    out: (title) => `${title}: ab jetzt zu sehen`,
    ends: (title) => `${title}: endet`,
  },
};

export const TEXTS: Readonly<Record<Language, Words>> = { en, de };
