// Secrets at rest: AES-256-GCM; the key is a file of 32 random bytes outside the database, readable by its owner only.
import { createCipheriv, createDecipheriv, createHmac, randomBytes } from 'node:crypto'
import { existsSync, mkdirSync, readFileSync, statSync, writeFileSync } from 'node:fs'
import { dirname } from 'node:path'

const keyFile = () => process.env['PELVOK_KEY_FILE'] ?? '.pelvok/key'

function key(): Buffer {
  const path = keyFile()
  if (!existsSync(path)) {
    mkdirSync(dirname(path), { recursive: true })
    // "wx": two processes that start together must not each make a key.
    try {
      writeFileSync(path, randomBytes(32), { mode: 0o600, flag: 'wx' })
    } catch (error) {
      if ((error as NodeJS.ErrnoException).code !== 'EEXIST') throw error
    }
  }
  if ((statSync(path).mode & 0o077) !== 0) throw new Error(`the key file ${path} can be read by others; run chmod 600 on it`)
  const bytes = readFileSync(path)
  if (bytes.length !== 32) throw new Error(`the key file ${path} does not hold 32 bytes; restore it, or enter the passwords of the sources again`)
  return bytes
}

/** 12 bytes of nonce, 16 of tag, then the ciphertext. */
export function seal(text: string): Buffer {
  const nonce = randomBytes(12)
  const cipher = createCipheriv('aes-256-gcm', key(), nonce)
  const body = Buffer.concat([cipher.update(text, 'utf8'), cipher.final()])
  return Buffer.concat([nonce, cipher.getAuthTag(), body])
}

/** Throws where the key is not the one it was sealed with. */
export function unseal(sealed: Buffer): string {
  const decipher = createDecipheriv('aes-256-gcm', key(), sealed.subarray(0, 12))
  decipher.setAuthTag(sealed.subarray(12, 28))
  return Buffer.concat([decipher.update(sealed.subarray(28)), decipher.final()]).toString('utf8')
}

/** A text that only whoever has the key can make of another one (HMAC-SHA-256, RFC 2104). */
export const keyed = (text: string): string => createHmac('sha256', key()).update(text).digest('base64url')
