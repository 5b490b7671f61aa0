// Bytes of scripts as text, and scripts in a zip.
import { unzipSync } from 'fflate'

/** Of the Encoding standard: in browsers and in Node alike. */
declare class TextDecoder {
  constructor(label?: string, options?: { readonly fatal?: boolean })
  decode(bytes?: Uint8Array, options?: { readonly stream?: boolean }): string
}
export type TextPieces = Pick<TextDecoder, 'decode'>

/** Of a text that begins so, and is that whole or goes on. By its byte order mark; UTF-8 where it has none and is that, else Windows-1252, which reads every byte. The mark is dropped. */
export function textDecoderOf(head: Uint8Array, isWhole: boolean): TextPieces {
  if (head[0] === 0xff && head[1] === 0xfe) return new TextDecoder('utf-16le')
  if (head[0] === 0xfe && head[1] === 0xff) return new TextDecoder('utf-16be')
  return new TextDecoder(isUtf8(head, isWhole) ? 'utf-8' : 'windows-1252')
}

/** A text that goes on may end within a character. */
function isUtf8(bytes: Uint8Array, isWhole: boolean): boolean {
  let end = bytes.length
  while (!isWhole && end > 0 && end > bytes.length - 4 && ((bytes[end - 1] as number) & 0xc0) === 0x80) end -= 1
  if (!isWhole && end > 0 && (bytes[end - 1] as number) >= 0xc0) end -= 1
  try {
    new TextDecoder('utf-8', { fatal: true }).decode(bytes.subarray(0, end))
    return true
  } catch {
    return false
  }
}

export const decodeText = (bytes: Uint8Array): string => textDecoderOf(bytes, true).decode(bytes)

/** As much as a browser may send of plain text. */
const unpackedLimit = 100_000_000
const countLimit = 20_000

/** An archive that is small and unpacks to more than anybody's scripts. */
export class ArchiveTooLarge extends Error {}

/** Files of a zip whose names are wanted, in the order of their names (numbers by value), decoded. Throws ArchiveTooLarge, or an Error where the bytes are no zip. */
export function unpackFiles(bytes: Uint8Array, isWanted: (name: string) => boolean): readonly { readonly name: string; readonly text: string }[] {
  let size = 0
  let count = 0
  const files = unzipSync(bytes, {
    filter: (f) => {
      if (!isWanted(f.name) || f.name.startsWith('__MACOSX/')) return false
      size += f.originalSize
      count += 1
      // Told before it is unpacked: nothing gets more room than its entry says.
      if (size > unpackedLimit) throw new ArchiveTooLarge(`what is in it comes to more than ${unpackedLimit / 1_000_000} MB`)
      if (count > countLimit) throw new ArchiveTooLarge(`it has more than ${countLimit} files`)
      return true
    },
  })
  return Object.entries(files)
    .sort(([a], [b]) => a.localeCompare(b, 'en', { numeric: true }))
    .map(([name, content]) => ({ name, text: decodeText(content) }))
}

/** The .sql files of a zip in order of name. Throws where the bytes are no zip. */
export const unpackScripts = (bytes: Uint8Array): ReturnType<typeof unpackFiles> => unpackFiles(bytes, (name) => /\.(sql|ddl|psql|mysql)$/i.test(name))
