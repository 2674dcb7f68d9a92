import { useMutation } from '@tanstack/react-query'
import { Alert, Input } from 'antd'
import { useEffect, useId, useState } from 'react'
import { api, ask, Refused, type Schemas } from '../api/client'
import type { Draft } from './draft'
import { words } from './words'

type Understood = Schemas['OrdersUnderstood']

/** What a customer asks for, typed as it is said: read into the order, with what is doubtful told. */
export function SaidLine({ draft, take, said }: { draft: Draft; take: (d: Draft) => void; said?: string }) {
  const [text, setText] = useState(said ?? '')
  const [told, setTold] = useState<Understood>()
  const help = useId()
  const read = useMutation({
    mutationFn: (said: string) => ask(api.POST('/api/v1/calculators/request', { body: { text: said, draft } })),
    onSuccess: (u) => {
      setTold(u)
      if (!u.found && !u.dated) return
      take(u.draft)
      setText('')
    },
  })
  const { mutate } = read
  useEffect(() => {
    if (said) mutate(said)
  }, [said, mutate])
  const notes = told ? [...told.doubts, ...(told.unread.length > 0 ? [words.unread(told.unread)] : [])] : []
  return (
    <form
      className="said-line"
      onSubmit={(e) => {
        e.preventDefault()
        if (text.trim()) read.mutate(text)
      }}
    >
      <label htmlFor={`${help}-line`}>{words.said}</label>
      <Input.Search
        id={`${help}-line`}
        value={text}
        placeholder={words.saidExample}
        maxLength={1000}
        enterButton={words.read}
        loading={read.isPending}
        aria-describedby={help}
        onChange={(e) => setText(e.target.value)}
        onSearch={(_, e) => e?.type === 'click' && text.trim() && read.mutate(text)}
      />
      <small id={help}>{words.saidHelp}</small>
      {told && !told.found && !told.dated && <Alert type="warning" showIcon title={words.nothingRead} />}
      {told && (told.found || told.dated) && notes.length > 0 && (
        <Alert
          type="warning"
          showIcon
          title={words.check}
          closable={{ closeIcon: words.gone, onClose: () => setTold(undefined) }}
          description={
            <ul>
              {notes.map((n) => (
                <li key={n}>{n}</li>
              ))}
            </ul>
          }
        />
      )}
      {read.error instanceof Refused && <Alert type="error" showIcon title={read.error.message} />}
    </form>
  )
}
