import { Segmented, Select } from 'antd'
import { memo } from 'react'
import { starting, traitsOf } from '../api/families'
import { Figure } from '../kit/Figure'
import { type Editing, Group, Row, useFault } from './fields'
import type { Formula } from './TreatPage'
import { words } from './words'
import './treats.css'

/** Where people differ: a default, and its reason when the name is touched. */
export const Choices = memo(function Choices({ f, follow, choices }: Editing) {
  const fault = useFault()
  const choose = (id: string, option: string) => {
    const made = { ...f.choices, [id]: option }
    const change: Partial<Formula> = { choices: made }
    if (id === 'shape' && f.shell) {
      change.shell =
        option === 'cup'
          ? {
              ...f.shell,
              across: starting.brim,
              base: f.shell.base ?? starting.foot,
              height: f.shell.height ?? starting.height,
            }
          : { ...f.shell, across: starting.ball, base: undefined, height: undefined }
      delete made.coats
    }
    if (id === 'style' && option === 'plain') change.coatings = f.coatings.filter((c) => c.role !== 'layer')
    if (id === 'style' && option !== 'plain' && !f.coatings.some((c) => c.role === 'layer')) {
      change.coatings = [
        ...f.coatings,
        {
          role: 'layer',
          ingredient: f.coatings[0]!.ingredient,
          share: option === 'trail' ? starting.trail : starting.layer,
          pool: starting.layerPool,
        },
      ]
    }
    if (id === 'shape' && traitsOf(f.family).drawn === 'rod' && option === 'twist' && f.centre)
      change.centre = { ...f.centre, across: undefined, length: undefined }
    follow(change)
  }
  return (
    <Group name={words.how}>
      {choices.map((c) => (
        <Row
          key={c.id}
          label={<Figure why={(c.options ?? []).map((o) => `${o.name}: ${o.why}`).join('\n')}>{c.name}</Figure>}
          fault={fault(`choices.${c.id}`)}
          path={`choices.${c.id}`}
        >
          {(c.options ?? []).length > 2 || (c.options ?? []).some((o) => o.name.length > 14) ? (
            <Select
              aria-label={c.name}
              value={f.choices[c.id] ?? c.options![0]!.id}
              style={{ width: 168 }}
              onChange={(v) => choose(c.id, v)}
              options={c.options!.map((o) => ({ value: o.id, label: o.name }))}
            />
          ) : (
            <Segmented
              aria-label={c.name}
              value={f.choices[c.id] ?? c.options![0]!.id}
              onChange={(v) => choose(c.id, String(v))}
              options={c.options!.map((o) => ({ value: o.id, label: o.name }))}
            />
          )}
        </Row>
      ))}
    </Group>
  )
})
