import { Button, Select } from 'antd'
import { memo, useState } from 'react'
import type { Schemas } from '../api/client'
import { starting, traitsOf } from '../api/families'
import { AmountInput } from '../kit/AmountInput'
import {
  type Body,
  changed,
  Fault,
  Group,
  notMelted,
  OptionalAmount,
  type Pantry,
  Pick,
  Row,
  useFault,
  without,
} from './fields'
import { words } from './words'
import './treats.css'

type Portion = Schemas['TreatAddition']

/** What goes in and on beside centre and chocolate: so much of it, or as much as there is room for. */
export const Portions = memo(function Portions({
  name,
  path,
  list,
  set,
  f,
  rest,
  pantry,
}: {
  name: string
  path: string
  list: Portion[]
  set: (list: Portion[]) => void
  f: Body
  rest?: string
  pantry: Pantry
}) {
  const fault = useFault()
  const inside = traitsOf(f.family).inside
  const [adding, setAdding] = useState(false)
  return (
    <Group name={name}>
      {list.map((p, i) => {
        const what = pantry.name(p.ingredient)
        const at = `${path}[${i}]`
        const change = (x: Partial<Portion>) => set(changed(list, i, x))
        return (
          <div key={i}>
            <Row
              label={
                <Pick
                  label={words.ingredient}
                  value={p.ingredient}
                  onChange={(ingredient) => change({ ingredient })}
                  only={notMelted}
                  path={`${at}.ingredient`}
                  width={170}
                />
              }
              fault={fault(`${at}.each`) ?? fault(`${at}.where`) ?? fault(`${at}.rest`)}
              of={p.ingredient}
            >
              {inside && (
                <span data-path={`${at}.where`}>
                  <Select
                    aria-label={words.whereGoes(what)}
                    value={p.where}
                    style={{ width: 58 }}
                    onChange={(where) =>
                      change(where === 'on' ? { where, rest: undefined } : { where, bed: undefined })
                    }
                    options={[
                      { value: 'in', label: words.inside },
                      { value: 'on', label: words.onTop },
                    ]}
                  />
                </span>
              )}
              {p.rest ? (
                <b className="fills-rest">{words.fillsTheRest}</b>
              ) : (
                <span data-path={`${at}.each`}>
                  <AmountInput
                    label={words.amountOf2(what)}
                    value={p.each}
                    width={90}
                    of={p.ingredient}
                    onChange={(each) => change({ each })}
                  />
                </span>
              )}
              <Button type="text" aria-label={words.leaveOut3(what)} onClick={() => set(without(list, i))}>
                ×
              </Button>
            </Row>
            {p.rest && rest && <p className="follows">{rest}</p>}
            {p.where === 'in' && inside && !f.centre && (p.rest || !list.some((x) => x.rest)) && (
              <span data-path={`${at}.rest`}>
                <Button
                  type="link"
                  className="link"
                  onClick={() =>
                    change(
                      p.rest
                        ? { rest: undefined, each: p.each.amount > 0 ? p.each : starting.portion }
                        : { rest: true },
                    )
                  }
                >
                  {p.rest ? words.giveItAnAmount(what) : words.fillTheRestWith(what)}
                </Button>
              </span>
            )}
            {p.where === 'on' && (
              <span data-path={p.bed ? undefined : `${at}.bed`}>
                <OptionalAmount
                  label={words.leftToRollIn(what)}
                  add={words.rollIn(what)}
                  value={p.bed}
                  begins={starting.bed}
                  onChange={(bed) => change({ bed })}
                  path={`${at}.bed`}
                  of={p.ingredient}
                />
              </span>
            )}
          </div>
        )
      })}
      {adding ? (
        <Pick
          label={words.whichIngredient}
          value=""
          only={notMelted}
          path={`${path}[${list.length}].ingredient`}
          onChange={(ingredient) => {
            setAdding(false)
            set([...list, { ingredient, each: starting.portion, where: inside ? 'in' : 'on' }])
          }}
        />
      ) : (
        <Button type="link" className="link" onClick={() => setAdding(true)}>
          {words.addAnIngredient}
        </Button>
      )}
      {fault(path) && <Fault text={fault(path)!} />}
    </Group>
  )
})
