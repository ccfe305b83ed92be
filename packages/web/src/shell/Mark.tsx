/** An open contact: the sign of the house. */
export function Mark() {
  return (
    <svg className="mark" viewBox="0 0 32 32" aria-hidden="true">
      <rect width="32" height="32" rx="4" fill="#0f6b6f" />
      <path
        d="M16 4v7M16 28v-7M16 21 9 10"
        stroke="#f4f1ea"
        strokeWidth="3"
        strokeLinecap="round"
        fill="none"
      />
    </svg>
  );
}
