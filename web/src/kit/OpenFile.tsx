import { Upload } from 'antd'
import type { ReactNode } from 'react'

/** Opens a file that is on this device; nothing is sent anywhere by choosing it. */
export function OpenFile(p: { label: string; accept: string; open: (file: File) => unknown; children: ReactNode }) {
  return (
    <Upload
      accept={p.accept}
      aria-label={p.label}
      showUploadList={false}
      beforeUpload={(file) => {
        void p.open(file)
        return false
      }}
    >
      {p.children}
    </Upload>
  )
}
