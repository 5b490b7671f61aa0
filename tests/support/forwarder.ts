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
  readonly end: () => Promise<void>
}

export async function forwarder(host: string, to: number): Promise<Forwarder> {
  const sockets = new Set<Socket>()
  let holding = false
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
    socket.on('data', (bytes) => (holding ? waiting.push({ out, bytes }) : out.write(bytes)))
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
