import { isForControl } from '../../../ui/typing.ts';
import { useEffect, useState } from 'react';
import { Link, useNavigate, useParams } from 'react-router';
import { mayDo } from '@mile-mark/contract';
import type { AxleDetail, VehicleDetail } from '@mile-mark/contract/forecasts';
import type { Reading } from '@mile-mark/contract/inspections';
import type { Me } from '@mile-mark/contract/people';
import { useVehicle } from '../../../api/forecasts.ts';
import { useMe } from '../../../api/people.ts';
import { useAddressed } from '../../../ui/useAddressed.ts';
import { State } from '../../../ui/State.tsx';
import { DriveNotice } from '../../jobs/index.ts';
import { ChangeNotes } from './ChangeNotes.tsx';
import { Chassis } from './Chassis.tsx';
import { CorrectOdometer } from './CorrectOdometer.tsx';
import { CorrectReading } from './CorrectReading.tsx';
import { DecisionNote } from './DecisionNote.tsx';
import { DutySection } from './DutySection.tsx';
import { Fitted } from './Fitted.tsx';
import { FoundSection } from './FoundSection.tsx';
import { PadSheet } from './PadSheet.tsx';
import { PoolingCompared } from './PoolingCompared.tsx';
import { ReadingsTable } from './ReadingsTable.tsx';
import { RecordService } from './RecordService.tsx';
import { VehicleHead } from './VehicleHead.tsx';
import { WearChart } from './WearChart.tsx';

/** One vehicle: its wheel ends, wear lines, readings, duty and services. */
export function Vehicle() {
  const { unit } = useParams();
  const me = useMe();
  const vehicle = useVehicle(unit);
  const navigate = useNavigate();
  const left = vehicle.data?.left != null;
  useEffect(() => {
    const onKey = (event: KeyboardEvent) => {
      if (isForControl(event)) return;
      if (document.querySelector('[role="dialog"]')) return;
      if (event.key === 'Escape') void navigate('/');
      if (event.key === 'm' && !left) void navigate(`/measure/${unit ?? ''}`);
      if (event.key === 't') void navigate(`/specifications?unit=${encodeURIComponent(unit ?? '')}`);
    };
    window.addEventListener('keydown', onKey);
    return () => window.removeEventListener('keydown', onKey);
  }, [navigate, unit, left]);

  if (vehicle.isPending) return <State title={`Loading ${unit ?? ''}`} what="Fetching its pads and readings." quiet />;
  if (vehicle.isLoadingError) {
    return (
      <State title={`${unit ?? 'The vehicle'} couldn’t load`} what={vehicle.error.message}>
        <Link className="underline" to="/">
          Back to Ahead
        </Link>
      </State>
    );
  }
  return <Page vehicle={vehicle.data} me={me} />;
}

function Page({ vehicle, me }: { vehicle: VehicleDetail; me: Me }) {
  const nearest = [...vehicle.axleDetails].sort((a, b) =>
    (a.mark?.markDate ?? '9').localeCompare(b.mark?.markDate ?? '9'),
  )[0];
  const [axleSaid, setAxle] = useAddressed('axle', String(nearest?.axle ?? 1));
  const axleNumber = Number(axleSaid);
  const [correcting, setCorrecting] = useState<Reading>();
  const [odometerOf, setOdometerOf] = useState<Reading>();
  const [recording, setRecording] = useState(false);
  const axle: AxleDetail | undefined = vehicle.axleDetails.find((one) => one.axle === axleNumber);
  const mayMeasure = mayDo(me.role, 'measure');
  return (
    <div className="h-full overflow-y-auto">
      <VehicleHead vehicle={vehicle} me={me} axle={axleNumber} onFitted={() => setRecording(true)} />
      <DriveNotice unit={vehicle.unit} />
      <ChangeNotes vehicle={vehicle} me={me} />
      <div className="grid grid-cols-1 gap-4 p-4 xl:grid-cols-[minmax(560px,1fr)_minmax(520px,1fr)]">
        <div className="flex flex-col gap-4">
          <Chassis vehicle={vehicle} me={me} selected={axleNumber} onSelect={(one) => setAxle(String(one))} />
          {axle && <DecisionNote axle={axle} vehicle={vehicle} me={me} />}
          {axle && <PadSheet key={axle.axle} of={vehicle.unit} axle={axle} readings={vehicle.readings} me={me} />}
          {!vehicle.left && <PoolingCompared vehicle={vehicle} />}
        </div>
        <div className="flex flex-col gap-4">
          {axle && <WearChart axle={axle} vehicle={vehicle} me={me} riskTarget={vehicle.riskTarget} />}
          <DutySection vehicle={vehicle} me={me} />
          <Fitted vehicle={vehicle} me={me} />
        </div>
        <div className="xl:col-span-2">
          <FoundSection vehicle={vehicle} me={me} />
        </div>
        <section className="xl:col-span-2">
          <ReadingsTable
            vehicle={vehicle}
            me={me}
            onCorrect={mayMeasure ? setCorrecting : undefined}
            onOdometer={mayDo(me.role, 'decide') ? setOdometerOf : undefined}
          />
        </section>
      </div>
      {correcting && <CorrectReading reading={correcting} me={me} onClose={() => setCorrecting(undefined)} />}
      {odometerOf && <CorrectOdometer reading={odometerOf} me={me} onClose={() => setOdometerOf(undefined)} />}
      {recording && <RecordService vehicle={vehicle} me={me} onClose={() => setRecording(false)} />}
    </div>
  );
}
