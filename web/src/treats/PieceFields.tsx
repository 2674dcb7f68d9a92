import { Button, Checkbox } from 'antd'
import type { Schemas } from '../api/client'
import { AmountInput } from '../kit/AmountInput'
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
  extent?: Schemas['FamilyExtent']
  set: (change: Change) => void
}) {
  const fault = useFault()
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
          {extent && (
            <p className="follows">
              {words.pieceTakesUp(
                ...([extent.length, extent.width, extent.height].map((mm) => Math.round(mm)) as [
                  number,
                  number,
                  number,
                ]),
              )}
            </p>
          )}
          <Button
            type="link"
            className="link"
            onClick={() =>
              change({
                length: { amount: Math.round(extent?.length ?? 40), unit: 'mm' },
                width: { amount: Math.round(extent?.width ?? 40), unit: 'mm' },
                height: { amount: Math.round(extent?.height ?? 30), unit: 'mm' },
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
