import { NavLink } from 'react-router'
import { useKitchen } from '../shell/kitchen'
import { words } from './words'
import './settings.css'

/** The pages of the settings, each with what it changes. Helpers have one, their own. */
export const SettingsPages = () =>
  useKitchen().owns && (
    <nav className="settings-pages" aria-label={words.title}>
      <NavLink to="/kitchen" end>
        {words.own}
      </NavLink>
      <NavLink to="/kitchen/you">{words.you}</NavLink>
      <NavLink to="/kitchen/helpers">{words.helpers}</NavLink>
      <NavLink to="/kitchen/data">{words.data}</NavLink>
    </nav>
  )
