import { createInterface } from 'node:readline'
import { existsSync, readFileSync, readdirSync, statSync, writeFileSync } from 'node:fs'
import { join } from 'node:path'

// Lines of "go|npm name version folder" become a bill of materials and a file of licences.
const components = []
const texts = []
const missing = []

/** The licence by its SPDX name, told by what its text says. */
function named(text) {
  if (/Apache License/.test(text)) return 'Apache-2.0'
  if (/ISC License|Permission to use, copy, modify, and\/or distribute/.test(text)) return 'ISC'
  if (/Permission is hereby granted, free of charge/.test(text)) return 'MIT'
  if (/Neither the name|may not be used to endorse/.test(text)) return 'BSD-3-Clause'
  if (/Redistribution and use in source and binary forms/.test(text)) return 'BSD-2-Clause'
  if (/Mozilla Public License/.test(text)) return 'MPL-2.0'
  if (/SIL OPEN FONT LICENSE/i.test(text)) return 'OFL-1.1'
  return undefined
}

for await (const line of createInterface({ input: process.stdin })) {
  const [kind, name, version, folder] = line.split(' ')
  const file = existsSync(folder) && readdirSync(folder).find((f) => /^(licen[cs]e|copying)/i.test(f) && statSync(join(folder, f)).isFile())
  const text = file ? readFileSync(join(folder, file), 'utf8') : ''
  const said = kind === 'npm' ? JSON.parse(readFileSync(join(folder, 'package.json'), 'utf8')).license : undefined
  const licence = (typeof said === 'string' ? said : undefined) ?? named(text)
  if (!licence) missing.push(`${name} ${version}`)
  components.push({
    type: 'library', name, version, purl: kind === 'go' ? `pkg:golang/${name}@${version}` : `pkg:npm/${name.replace('@', '%40')}@${version}`,
    licenses: licence ? [licence.includes(' ') ? { expression: licence } : { license: { id: licence } }] : [],
  })
  texts.push(`${name} ${version} (${licence ?? 'unknown'})\n\n${text || 'No text of the licence comes with the package.'}\n`)
}
components.sort((a, b) => a.purl.localeCompare(b.purl))
writeFileSync('bin/sbom.json', JSON.stringify({ bomFormat: 'CycloneDX', specVersion: '1.5', version: 1, metadata: { component: { type: 'application', name: 'zestytin' } }, components }, null, 1) + '\n')
writeFileSync('web/public/licences.txt', texts.sort().join(`\n${'-'.repeat(80)}\n\n`))
const kinds = {}
for (const c of components) {
  const of = c.licenses[0]?.license?.id ?? c.licenses[0]?.expression ?? 'unknown'
  kinds[of] = (kinds[of] ?? 0) + 1
}
console.log(`${components.length} packages in bin/sbom.json and web/public/licences.txt: ${Object.entries(kinds).map(([k, n]) => `${n} ${k}`).join(', ')}`)
if (missing.length > 0) {
  console.error(`no licence is known of: ${missing.join(', ')}`)
  process.exitCode = 1
}
