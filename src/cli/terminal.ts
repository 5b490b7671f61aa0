// What people read: names and texts from outside move no cursor and clear no screen.
import { printable } from '../core/text/scan.ts'

/** Answers for people, on standard output. What programs read is written as it is. */
export const print = (text: string): boolean => process.stdout.write(printable(text))

export const say = (line: string): boolean => process.stderr.write(`${printable(line)}\n`)

export const progress = (line: string): void => {
  if (process.stderr.isTTY) process.stderr.write(`\r\x1b[K${printable(line)}`)
}
