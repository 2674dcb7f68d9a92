import { useQuery } from '@tanstack/react-query'
import { Badge, Dropdown } from 'antd'
import { useState } from 'react'
import { useNavigate } from 'react-router'
import { api, ask } from '../api/client'
import { useKitchen } from './kitchen'
import { words } from './words'
import './shell.css'

/** A sign on the lid: customers have answered since one last looked. */
export function Answers() {
  const kitchen = useKitchen()
  const navigate = useNavigate()
  const stored = `zestytin.answers.${kitchen.session.kitchen}`
  const [seen, setSeen] = useState(() => localStorage.getItem(stored) ?? '')
  const answers = useQuery({
    queryKey: ['orders', 'answers'],
    queryFn: () => ask(api.GET('/api/v1/quote-answers', {})),
  })
  const fresh = answers.data?.answers.filter((a) => a.at > seen) ?? []
  if (fresh.length === 0) return null
  const looked = () => {
    localStorage.setItem(stored, fresh[0]!.at)
    setSeen(fresh[0]!.at)
  }
  return (
    <Dropdown
      trigger={['click']}
      menu={{
        items: fresh.map((a) => ({
          key: `${a.order} ${a.at}`,
          label: a.accepted
            ? words.answers.accepted(a.customer)
            : a.lapsed
              ? words.answers.lapsed(a.customer)
              : words.answers.asked(a.customer, (a.request ?? '').slice(0, 60)),
        })),
        onClick: ({ key }) => {
          looked()
          void navigate(`/orders/${key.split(' ')[0]}`)
        },
      }}
    >
      <button
        type="button"
        className="answered"
        aria-label={words.answers.sign(fresh.length)}
        title={words.answers.sign(fresh.length)}
      >
        <Badge count={fresh.length} size="small">
          <svg
            width="22"
            height="20"
            viewBox="0 0 22 20"
            fill="none"
            stroke="currentColor"
            strokeWidth="1.8"
            aria-hidden="true"
          >
            <path d="M3 2.5h16v11H9l-4 4v-4H3z" strokeLinejoin="round" />
            <path d="M7 8.2l2.6 2.4L15 5.6" strokeLinecap="round" />
          </svg>
        </Badge>
      </button>
    </Dropdown>
  )
}
