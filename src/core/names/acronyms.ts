// Words that are read letter by letter, or are the initials of others: a team writes them Url or URL.

const known = new Set(
  'id uid uuid guid oid url uri urn html css http https xml xsd json yaml csv pdf svg png jpg jpeg gif sql db api sdk rpc ip tcp udp dns dhcp mac ssl tls ssh ftp smtp imap ldap sso mfa otp jwt gps utc iso isbn ean upc sku iban bic vat gtin sms mms rss cpu gpu ram os ui ux pin faq kpi crm erp hr qr rfid nfc md5 sha utf ascii'.split(
    ' ',
  ),
)

/** `url` → URL, `urls` → URLs; null for a word that is no acronym. */
export function acronym(word: string): string | null {
  if (known.has(word)) return word.toUpperCase()
  return word.endsWith('s') && known.has(word.slice(0, -1)) ? `${word.slice(0, -1).toUpperCase()}s` : null
}
