/** Skivel’s mark: three sheets, one behind the other. */
export function Mark() {
  return (
    <svg width="18" height="18" viewBox="0 0 18 18" aria-hidden>
      <path d="M1 5.5L17 1v3.2L1 8.7Z" className="fill-primary" opacity="0.4" />
      <path d="M1 10.2L17 5.7v3.2L1 13.4Z" className="fill-primary" opacity="0.7" />
      <path d="M1 14.9L17 10.4v3.2L1 17.6Z" className="fill-primary" />
    </svg>
  )
}
