import Link from 'next/link';

export default function NotFound() {
  return (
    <div className="sign">
      <h1>There is nothing here</h1>
      <p className="mute">The address may be mistyped, or what it names belongs to somebody else.</p>
      <p>
        <Link href="/today">Back to Today</Link>
      </p>
    </div>
  );
}
