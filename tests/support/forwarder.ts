// A door in front of a server that a test can shut: connections through it break, and none is made until it opens again; or what is
// asked waits.
import { type AddressInfo, connect, createServer, type Server, type Socket } from 'node:net'

export interface Forwarder {
  readonly port: number
  /** Breaks all connections and refuses new ones. */
  readonly shut: () => Promise<void>
  readonly open: () => Promise<void>
  /** What is asked from now on waits. */
  readonly hold: () => void
  /** How many bytes were asked while it was held. */
  readonly held: () => number
  readonly release: () => void
  /** The statements that were asked through it. */
  readonly statements: readonly string[]
  readonly end: () => Promise<void>
}

/** Tells the statements in what a client of PostgreSQL sends: Query and Parse (manual, Frontend/Backend Protocol, Message Formats). */
function reader(tell: (statement: string) => void): (bytes: Buffer) => void {
  let rest: Buffer = Buffer.alloc(0)
  // The first message has no letter in front.
  let started = false
  return (bytes) => {
    rest = rest.length === 0 ? bytes : Buffer.concat([rest, bytes])
    for (;;) {
      const head = started ? 1 : 0
      if (rest.length < head + 4) return
      const length = head + rest.readInt32BE(head)
      if (rest.length < length) return
      if (started && (rest[0] === 0x51 || rest[0] === 0x50))
        tell(
          rest
            .subarray(head + 4, length)
            .toString('utf8')
            .replaceAll('\0', ' ')
            .trim(),
        )
      started = true
      rest = rest.subarray(length)
    }
  }
}

export async function forwarder(host: string, to: number): Promise<Forwarder> {
  const sockets = new Set<Socket>()
  let holding = false
  const statements: string[] = []
  let waiting: { readonly out: Socket; readonly bytes: Buffer }[] = []
  const pass = (socket: Socket) => {
    const out = connect(to, host)
    for (const [a, b] of [
      [socket, out],
      [out, socket],
    ] as const) {
      sockets.add(a)
      a.on('error', () => {})
      a.on('close', () => {
        sockets.delete(a)
        b.destroy()
      })
    }
    const read = reader((statement) => statements.push(statement))
    socket.on('data', (bytes) => {
      read(bytes)
      if (holding) waiting.push({ out, bytes })
      else out.write(bytes)
    })
    out.on('data', (bytes) => socket.write(bytes))
  }
  let server: Server | null = null
  const listen = (port: number) =>
    new Promise<number>((resolve, reject) => {
      const made = createServer(pass)
      server = made
      made.on('error', reject).listen(port, '127.0.0.1', () => resolve((made.address() as AddressInfo).port))
    })
  const port = await listen(0)
  const shut = () =>
    new Promise<void>((resolve) => {
      if (server) server.close(() => resolve())
      else resolve()
      server = null
      for (const s of sockets) s.destroy()
    })
  return {
    port,
    shut,
    open: async () => {
      await listen(port)
    },
    hold: () => {
      holding = true
    },
    statements,
    held: () => waiting.reduce((n, w) => n + w.bytes.length, 0),
    release: () => {
      holding = false
      const now = waiting
      waiting = []
      for (const { out, bytes } of now) out.write(bytes)
    },
    end: shut,
  }
}
