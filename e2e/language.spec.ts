import { expect, test } from '@playwright/test'
import { readdirSync, readFileSync } from 'node:fs'
import { join } from 'node:path'
import ts from 'typescript'

// What the front end says comes from a file of words beside each place, so that a language is a file.

const root = join(import.meta.dirname, '../web/src')
const saying = new Set(['title', 'aria-label', 'placeholder', 'label', 'alt', 'okText'])

/** Texts that stand in the markup of a file. */
function texts(path: string): string[] {
  const found: string[] = []
  const says = (text: string) => /\p{L}{2,}/u.test(text.replace(/\b(?:Zesty Tin|PDF|CSV|API)\b/g, ''))
  const look = (node: ts.Node): void => {
    if (ts.isJsxText(node) && says(node.text)) found.push(node.text.trim())
    if (
      ts.isJsxAttribute(node) &&
      saying.has(node.name.getText()) &&
      node.initializer &&
      ts.isStringLiteral(node.initializer) &&
      says(node.initializer.text)
    ) {
      found.push(node.initializer.text)
    }
    ts.forEachChild(node, look)
  }
  look(ts.createSourceFile(path, readFileSync(path, 'utf8'), ts.ScriptTarget.Latest, true, ts.ScriptKind.TSX))
  return found
}

test('what is said stands in the words of its place', () => {
  const files = readdirSync(root, { recursive: true, encoding: 'utf8' }).filter((f) => f.endsWith('.tsx'))
  expect(files.length).toBeGreaterThan(60)
  const outside = new Map(
    files.map((f) => [f.replace(/\.tsx$/, ''), texts(join(root, f))] as const).filter(([, list]) => list.length > 0),
  )
  for (const [place, list] of outside) expect.soft(list, `${place} says`).toEqual([])
})
