/** Characters that file systems or archives take for something else, as people read them. */
export const FORBIDDEN_CHARACTERS = '\\ / : * ? " < > |';
