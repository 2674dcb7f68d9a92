import '@fontsource-variable/atkinson-hyperlegible-next'
import '@fontsource-variable/fraunces'
import './shell/tin.css'
import { createRoot } from 'react-dom/client'
import { Shell } from './shell/Shell'

createRoot(document.getElementById('root')!).render(<Shell />)
