/** How many characters a password has at least (NIST SP 800-63B asks for eight; a short sentence has more). */
export const PASSWORD_LENGTH = 10;
