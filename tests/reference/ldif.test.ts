import { describe, expect, it } from 'vitest'
import { readLdif, type LdifRecord } from '../../src/core/notations/organisation/formats/ldif'

/** The examples at the end of RFC 2849, as remembered: their shape, names and values are from memory, not looked up. */
const records = (text: string): LdifRecord[] => {
  const read = readLdif(text)
  if ('refused' in read) throw new Error(read.refused)
  return read
}
const values = (record: LdifRecord | undefined, name: string) => record?.attributes.get(name)

describe('RFC 2849, examples (from memory)', () => {
  it('1: a simple file with two entries', () => {
    const read = records(`version: 1
dn: cn=Barbara Jensen, ou=Product Development, dc=airius, dc=com
objectclass: top
objectclass: person
objectclass: organizationalPerson
cn: Barbara Jensen
cn: Barbara J Jensen
cn: Babs Jensen
sn: Jensen
uid: bjensen
telephonenumber: +1 408 555 1212
description: A big sailing fan.

dn: cn=Bjorn Jensen, ou=Accounting, dc=airius, dc=com
objectclass: top
objectclass: person
objectclass: organizationalPerson
cn: Bjorn Jensen
sn: Jensen
telephonenumber: +1 408 555 1212
`)
    expect(read.map(({ dn, line }) => [dn, line])).toEqual([
      ['cn=Barbara Jensen, ou=Product Development, dc=airius, dc=com', 2],
      ['cn=Bjorn Jensen, ou=Accounting, dc=airius, dc=com', 14],
    ])
    expect(values(read[0], 'cn')).toEqual(['Barbara Jensen', 'Barbara J Jensen', 'Babs Jensen'])
  })

  it('2: a value folded over several lines', () => {
    const [read] = records(`version: 1
dn:cn=Barbara Jensen, ou=Product Development, dc=airius, dc=com
objectclass:top
objectclass:person
cn:Barbara Jensen
title:Product Manager, Rod and Reel Division
description:Babs is a big sailing fan, and travels extensively in sea
 rch of perfect sailing conditions.
`)
    expect(values(read, 'description')).toEqual([
      'Babs is a big sailing fan, and travels extensively in search of perfect sailing conditions.',
    ])
    expect(values(read, 'title')).toEqual(['Product Manager, Rod and Reel Division'])
  })

  it('3: a base64 value', () => {
    const [read] = records(`version: 1
dn: cn=Gern Jensen, ou=Product Testing, dc=airius, dc=com
objectclass: person
cn: Gern Jensen
description:: V2hhdCBhIGNhcmVmdWwgcmVhZGVyIHlvdSBhcmUhICBUaGlzIHZhbHVl
 IGlzIGJhc2UtNjQtZW5jb2RlZCBiZWNhdXNlIGl0IGhhcyBhIGNvbnRyb2wgY2hhcmFjdG
 VyIGluIGl0IChhIENSKS4NICBCeSB0aGUgd2F5LCB5b3Ugc2hvdWxkIHJlYWxseSBnZXQg
 b3V0IG1vcmUu
`)
    expect(values(read, 'description')?.[0]).toBe(
      'What a careful reader you are!  This value is base-64-encoded because it has a control character in it (a CR).\r  By the way, you should really get out more.',
    )
  })

  it('4: names in UTF-8 with language tags, and comments', () => {
    const [unit, person] = records(`version: 1
dn:: b3U95Za25qWt6YOoLG89QWlyaXVz
# dn:: ou=<JapaneseOU>,o=Airius
objectclass: top
objectclass: organizationalUnit
ou:: 5Za25qWt6YOo
ou;lang-ja:: 5Za25qWt6YOo
ou;lang-en: Sales

dn:: dWlkPXJvZ2FzYXdhcmEsb3U95Za25qWt6YOoLG89QWlyaXVz
objectclass: person
uid: rogasawara
`)
    expect(unit?.dn).toBe('ou=営業部,o=Airius')
    expect(values(unit, 'ou')).toEqual(['営業部', '営業部', 'Sales'])
    expect(person?.dn).toBe('uid=rogasawara,ou=営業部,o=Airius')
  })

  it('5: a value given by the address of a file', () => {
    const [read] = records(`version: 1
dn: cn=Horatio Jensen, ou=Product Testing, dc=airius, dc=com
objectclass: person
cn: Horatio Jensen
jpegphoto:< file:///usr/local/directory/photos/hjensen.jpg
`)
    expect([values(read, 'cn'), values(read, 'jpegphoto')]).toEqual([['Horatio Jensen'], undefined])
  })

  it('6: change records', () => {
    const read = records(`version: 1
# Add a new entry
dn: cn=Fiona Jensen, ou=Marketing, dc=airius, dc=com
changetype: add
objectclass: top
objectclass: person
objectclass: organizationalPerson
cn: Fiona Jensen
sn: Jensen
uid: fiona

# Delete an existing entry
dn: cn=Robert Jensen, ou=Marketing, dc=airius, dc=com
changetype: delete

# Modify an entry's relative distinguished name
dn: cn=Paul Jensen, ou=Product Development, dc=airius, dc=com
changetype: modrdn
newrdn: cn=Paula Jensen
deleteoldrdn: 1

# Modify an entry: add a value
dn: cn=Paula Jensen, ou=Product Development, dc=airius, dc=com
changetype: modify
add: postaladdress
postaladdress: 123 Anystreet $ Sunnyvale, CA $ 94086
-

dn: ou=Product Development, dc=airius, dc=com
control: 1.2.840.113556.1.4.805 true
changetype: delete
`)
    expect(read.map(({ changetype }) => changetype)).toEqual(['add', 'delete', 'modrdn', 'modify', 'delete'])
    expect(values(read[0], 'uid')).toEqual(['fiona'])
  })
})
