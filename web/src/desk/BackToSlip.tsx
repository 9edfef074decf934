// From a view that fills the screen back to the slip, by a tap or by the key that filled it.
import { Link, useNavigate } from 'react-router'
import { keyName, useKeySettings } from '../keys'
import { useSingleKeys } from './desk'

/** The way back to the slip that a view belongs to. */
export function BackToSlip({ job, title }: { job: string; title: string }) {
  const navigate = useNavigate()
  const { keys } = useKeySettings()
  useSingleKeys((action) => {
    if (action !== 'whole') return false
    void navigate(`/job/${job}`)
    return true
  })
  return (
    <Link to={`/job/${job}`}>
      {title}, back to the slip ({keyName(keys.whole)})
    </Link>
  )
}
