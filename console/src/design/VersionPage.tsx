import { useParams } from 'wouter';
import { DashboardRoute } from '../dashboard/DashboardRoute';
import classes from './design.module.css';

/** A dashboard as an earlier version had it, over the data of now: it works, and changes nothing. */
export default function VersionPage() {
  const { number } = useParams<{ number?: string }>();
  return (
    <>
      <p role="status" className={classes.versionBanner}>
        This is version {number}, drawn with the data as they are now. Nothing can be changed in it.
      </p>
      <DashboardRoute />
    </>
  );
}
