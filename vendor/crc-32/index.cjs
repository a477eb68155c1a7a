const { crc32 } = require('node:zlib');

/** CRC-32 of bytes as a signed number, going on from `seed`. */
exports.buf = (bytes, seed = 0) => crc32(bytes, seed >>> 0) | 0;
/** The same of a text in UTF-8. */
exports.str = (text, seed = 0) => crc32(text, seed >>> 0) | 0;
