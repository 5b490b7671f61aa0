// Which server a script is for: the same text means different things to different ones.

export interface MySqlServer {
  readonly engine: 'mysql' | 'mariadb'
  /** 80033 for 8.0.33, 101106 for 10.11.6: as in version comments. */
  readonly version: number
  /** int(11): MySQL dropped the width with 8.0.19. */
  readonly displayWidths: boolean
}

export function mySqlServer(engine: 'mysql' | 'mariadb', version: number): MySqlServer {
  return { engine, version, displayWidths: engine === 'mariadb' || version < 80_019 }
}

/** `8.0.33` → 80033. Missing parts count as the newest: `10.11` means its last release. */
export function versionNumber(text: string): number | null {
  const m = /^(\d+)(?:\.(\d+))?(?:\.(\d+))?/.exec(text)
  return m ? Number(m[1]) * 10_000 + Number(m[2] ?? 99) * 100 + Number(m[3] ?? 99) : null
}

/** What is taken where a script does not say: Debian's own. */
export const defaultServer = mySqlServer('mariadb', 101_199)

/** The server that a dump names in its first lines: `-- Server version	8.0.33`, `-- MariaDB dump 10.19  Distrib 10.11.6-MariaDB`. */
export function serverOfDump(head: string): MySqlServer | null {
  const named = /^-- Server version\s+(\d+\.\d+\.\d+)(\S*)/m.exec(head) ?? /Distrib (\d+\.\d+\.\d+)(\S*)/.exec(head)
  const version = named ? versionNumber(named[1] as string) : null
  if (!named || version === null) return null
  return mySqlServer(/mariadb/i.test(`${named[2]}${head.slice(0, 200)}`) ? 'mariadb' : 'mysql', version)
}
