import '@fontsource-variable/atkinson-hyperlegible-next'
import '@fontsource-variable/fraunces'
import './quote.css'
import { createRoot } from 'react-dom/client'
import { QuotePage } from './QuotePage'

createRoot(document.getElementById('root')!).render(<QuotePage token={location.pathname.split('/')[2] ?? ''} />)
