<svg viewBox="0 0 28 20" width="26" height="19" aria-hidden="true">
	<rect x="0" y="6" width="7" height="8" fill="#e58a4a" />
	<path d="M7 10h8c5 0 5-8 12-8M15 10c5 0 5 8 12 8" fill="none" stroke="#fbf8f0" stroke-width="2.4" />
</svg>
