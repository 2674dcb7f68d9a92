import { NavLink } from 'react-router'
import { words } from './words'
import './settings.css'

/** The pages of the settings, each with what it changes. */
export const SettingsPages = () => (
  <nav className="settings-pages" aria-label={words.title}>
    <NavLink to="/kitchen" end>
      {words.own}
    </NavLink>
    <NavLink to="/kitchen/you">{words.you}</NavLink>
    <NavLink to="/kitchen/data">{words.data}</NavLink>
  </nav>
)
