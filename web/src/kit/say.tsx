import { App, Button } from 'antd'
import { Refused } from '../api/client'
import { words } from './words'

/**
 * Says what was done, with a way to undo it, and what the server refused. A newer word of a kind takes the older one's
 * place.
 */
export function useSay() {
  const { message } = App.useApp()
  return {
    done: (kind: string, text: string, undo?: () => void) =>
      void message.open({
        key: kind,
        type: 'success',
        duration: 6,
        content: (
          <>
            {text}{' '}
            {undo && (
              <Button
                type="link"
                className="link"
                onClick={() => {
                  message.destroy(kind)
                  undo()
                }}
              >
                {words.undo}
              </Button>
            )}
          </>
        ),
      }),
    /** The server's own words; an error of another kind is thrown on. */
    refused: (error: unknown) => {
      if (!(error instanceof Refused)) throw error
      void message.error(error.message, 8)
    },
  }
}
