// Logs: one JSON line per event on standard error. Never a URL, a secret or a row value.
import pino from 'pino'

export const log = pino(
  { name: 'pelvok', level: process.env['PELVOK_LOG'] ?? 'info', base: null, redact: ['password', 'secret', 'url', '*.password', '*.secret', '*.url'] },
  pino.destination(2),
)
