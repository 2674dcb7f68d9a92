import { Button, Checkbox } from 'antd'
import type { Schemas } from '../api/client'
import { AmountInput } from '../kit/AmountInput'
import { useKitchen } from '../shell/kitchen'
import { type Change, Group, Row, useFault } from './fields'
import type { Formula } from './TreatPage'
import { words } from './words'

/** What a finished piece takes up in a box: measured, or as it follows from its making. */
export function PieceRows({
  piece,
  extent,
  set,
}: {
  piece: Formula['piece']
  extent?: Schemas['BatchExtent']
  set: (change: Change) => void
}) {
  const fault = useFault()
  const kitchen = useKitchen()
  // In the kitchen's own units, to be measured again.
  const about = (mm: number): Schemas['MeasureQuantity'] =>
    kitchen.session.units === 'us'
      ? { amount: Math.round((mm / 25.4) * 8) / 8, unit: 'in' }
      : { amount: Math.round(mm), unit: 'mm' }
  const change = (x: Partial<NonNullable<Formula['piece']>>) =>
    set((now) => {
      const next = { ...now.piece, ...x }
      const said = next.length || next.width || next.height || next.lies || next.bare || next.apart
      return { piece: said ? next : undefined }
    })
  const first: Schemas['MeasureQuantity'] = { amount: 0, unit: 'mm' }
  const side = (key: 'length' | 'width' | 'height', label: string) => (
    <Row label={label} fault={fault(`piece.${key}`)} path={`piece.${key}`}>
      <AmountInput label={label} value={piece?.[key] ?? first} onChange={(q) => change({ [key]: q })} />
    </Row>
  )
  return (
    <Group name={words.sizeInTheBox}>
      {piece?.length ? (
        <>
          {side('length', words.pieceLong)}
          {side('width', words.pieceWide)}
          {side('height', words.pieceHigh)}
          <Button
            type="link"
            className="link"
            onClick={() => change({ length: undefined, width: undefined, height: undefined })}
          >
            {words.asItsMakingSays}
          </Button>
        </>
      ) : (
        <>
          {extent && <p className="follows">{words.pieceTakesUp(extent.sides.map(kitchen.amount).join(' × '))}</p>}
          <Button
            type="link"
            className="link"
            onClick={() =>
              change({
                length: about(extent?.length ?? 40),
                width: about(extent?.width ?? 40),
                height: about(extent?.height ?? 30),
              })
            }
          >
            {words.measureAPiece}
          </Button>
        </>
      )}
      <div data-path="piece.lies">
        <Checkbox checked={piece?.lies ?? false} onChange={(e) => change({ lies: e.target.checked || undefined })}>
          {words.mayLieOnASide}
        </Checkbox>
      </div>
      <div data-path="piece.bare">
        <Checkbox checked={piece?.bare ?? false} onChange={(e) => change({ bare: e.target.checked || undefined })}>
          {words.nothingOnTop}
        </Checkbox>
      </div>
      <div data-path="piece.apart">
        <Checkbox checked={piece?.apart ?? false} onChange={(e) => change({ apart: e.target.checked || undefined })}>
          {words.smellsOrStains}
        </Checkbox>
      </div>
    </Group>
  )
}
