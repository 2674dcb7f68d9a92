import { Select } from 'antd'
import { useState } from 'react'
import type { Schemas } from '../api/client'
import { QuickSupply } from '../larder/QuickSupply'
import { useSupplies } from '../larder/useSupplies'
import { words } from './words'

/** Chooses packaging; what is not there is made under the name that was sought, in one line. */
export function SupplyPick({
  label,
  value,
  none,
  onChange,
  width = 150,
}: {
  label: string
  value?: string
  /** What it is called when none is chosen; not given where one must be. */
  none?: string
  onChange: (id: string | undefined, made?: Schemas['LarderSupply']) => void
  width?: number
}) {
  const supplies = useSupplies()
  const [sought, setSought] = useState('')
  const [adding, setAdding] = useState<string>()
  const text = sought.trim()
  return (
    <>
      <Select
        aria-label={label}
        value={value || (none ? '' : undefined)}
        placeholder={words.chooseOrType}
        loading={supplies.isPending}
        style={{ width }}
        popupMatchSelectWidth={false}
        showSearch={{
          onSearch: setSought,
          filterOption: (sought, o) =>
            o?.value === 'new' || String(o?.label).toLowerCase().includes(sought.toLowerCase()),
        }}
        options={[
          ...(none ? [{ value: '', label: none }] : []),
          ...(supplies.data?.supplies ?? []).map((s) => ({ value: s.id, label: s.name })),
          { value: 'new', label: text ? words.addNamed(text) : words.newPackaging },
        ]}
        onChange={(id) => {
          setSought('')
          if (id === 'new') setAdding(text)
          else onChange(id || undefined)
        }}
      />
      {adding !== undefined && (
        <QuickSupply
          name={adding}
          close={(made) => {
            setAdding(undefined)
            if (!made) return
            void supplies.refetch()
            onChange(made.id, made)
          }}
        />
      )}
    </>
  )
}
