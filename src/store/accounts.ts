// Accounts, sessions, and attempts to sign in. Tokens come and stay as hashes.
import { inTransaction, store } from './pool.ts'

export type Role = 'reader' | 'reviewer' | 'owner'

export interface StoredAccount {
  readonly id: string
  readonly name: string
  readonly role: Role
  readonly createdAt: Date
  readonly createdBy: string
}

const fields = 'id::text, name, role, created_at as "createdAt", created_by as "createdBy"'

export async function listAccounts(): Promise<readonly StoredAccount[]> {
  return (await store().query<StoredAccount>(`select ${fields} from pelvok.account order by lower(name)`)).rows
}

/** With the hash of the password, by a name in any case. */
export async function findAccount(name: string): Promise<(StoredAccount & { readonly password: string }) | null> {
  const { rows } = await store().query<StoredAccount & { password: string }>(`select ${fields}, password from pelvok.account where lower(name) = lower($1)`, [
    name,
  ])
  return rows[0] ?? null
}

/** Are there accounts, and whose session is this? One query, since every request asks. */
export async function findSession(token: Buffer | null): Promise<{ readonly accounts: boolean; readonly account: StoredAccount | null }> {
  const { rows } = await store().query<{ accounts: boolean } & { [K in keyof StoredAccount]: StoredAccount[K] | null }>(
    `select exists (select from pelvok.account) as accounts, a.id::text, a.name, a.role, a.created_at as "createdAt", a.created_by as "createdBy"
     from (select) one
     left join pelvok.session s on s.token = $1 and s.expires_at > now()
     left join pelvok.account a on a.id = s.account_id`,
    [token],
  )
  const [row] = rows
  if (!row) return { accounts: false, account: null }
  const { accounts, ...account } = row
  return { accounts, account: account.id === null ? null : (account as StoredAccount) }
}

/** False where the name is taken. Where `first`, false also where there is an account already. */
export async function insertAccount(
  a: { readonly name: string; readonly role: Role; readonly password: string; readonly by: string },
  first: boolean,
): Promise<boolean> {
  return inTransaction(async (client) => {
    await client.query('lock table pelvok.account in share row exclusive mode')
    const { rowCount } = await client.query(
      `insert into pelvok.account (name, role, password, created_by)
       select $1, $2, $3, $4 where not exists (select from pelvok.account where lower(name) = lower($1) or $5)`,
      [a.name, a.role, a.password, a.by, first],
    )
    return rowCount === 1
  })
}

export type AccountChange = { readonly role: Role } | { readonly password: string } | 'remove'

/**
 * Change or remove an account, unless that would leave no owner: then nothing happens. A new password ends the account's sessions but
 * `keep`; removing ends all. The last of all accounts may go, and with it sign-in.
 */
export async function changeAccount(id: string, change: AccountChange, keep: Buffer | null = null): Promise<'done' | 'no such account' | 'last owner'> {
  return inTransaction(async (client) => {
    await client.query('lock table pelvok.account in share row exclusive mode')
    const { rows } = await client.query<{ id: string; role: Role }>('select id::text, role from pelvok.account')
    const one = rows.find((r) => r.id === id)
    if (!one) return 'no such account'
    const demotes = change === 'remove' ? rows.length > 1 : 'role' in change && change.role !== 'owner'
    if (demotes && one.role === 'owner' && rows.filter((r) => r.role === 'owner').length === 1) return 'last owner'
    if (change === 'remove') await client.query('delete from pelvok.account where id = $1', [id])
    else if ('role' in change) await client.query('update pelvok.account set role = $2 where id = $1', [id, change.role])
    else {
      await client.query('update pelvok.account set password = $2 where id = $1', [id, change.password])
      await client.query('delete from pelvok.session where account_id = $1 and token is distinct from $2', [id, keep])
    }
    return 'done'
  })
}

/** Sessions that ran out go with the next one that begins. */
export async function insertSession(token: Buffer, accountId: string, days: number): Promise<void> {
  await store().query('delete from pelvok.session where expires_at <= now()')
  await store().query("insert into pelvok.session (token, account_id, expires_at) values ($1, $2, now() + $3 * interval '1 day')", [token, accountId, days])
}

export async function deleteSession(token: Buffer): Promise<void> {
  await store().query('delete from pelvok.session where token = $1', [token])
}

/** Puts the attempt down, and gives the how-manieth it is under this name in the last `minutes`: of many at once each has a number of its own. */
export async function insertAttempt(name: string, minutes: number): Promise<number> {
  return inTransaction(async (client) => {
    // One at a time for a name: whoever counts sees all that came before.
    await client.query('select pg_advisory_xact_lock(hashtextextended(lower($1), 0))', [name])
    await client.query("delete from pelvok.sign_in_attempt where at < now() - interval '1 day'")
    await client.query('insert into pelvok.sign_in_attempt (name) values (lower($1))', [name])
    const { rows } = await client.query<{ n: number }>(
      "select count(*)::int as n from pelvok.sign_in_attempt where name = lower($1) and at > now() - $2 * interval '1 minute'",
      [name, minutes],
    )
    return rows[0]?.n ?? 0
  })
}

export async function deleteAttempts(name: string): Promise<void> {
  await store().query('delete from pelvok.sign_in_attempt where name = lower($1)', [name])
}
