<?xml version="1.0" encoding="utf-8"?>
<!DOCTYPE TS>
<TS version="2.1" language="en" sourcelanguage="en">
<context>
    <name>ingot::app::VoltageLadder</name>
    <message numerus="yes">
        <source>%n units read by themselves</source>
        <translation>
            <numerusform>%n unit read by itself</numerusform>
            <numerusform>%n units read by themselves</numerusform>
        </translation>
    </message>
</context>
<context>
    <name>ingot::app::DueBoardView</name>
    <message numerus="yes">
        <source>%n units</source>
        <translation>
            <numerusform>%n unit</numerusform>
            <numerusform>%n units</numerusform>
        </translation>
    </message>
</context>
<context>
    <name>ingot::app::PopulationsPage</name>
    <message numerus="yes">
        <source>%n packs</source>
        <translation>
            <numerusform>%n pack</numerusform>
            <numerusform>%n packs</numerusform>
        </translation>
    </message>
    <message numerus="yes">
        <source>%1 units a pack, counted from %n packs.</source>
        <translation>
            <numerusform>%1 units a pack, counted from %n pack.</numerusform>
            <numerusform>%1 units a pack, counted from %n packs.</numerusform>
        </translation>
    </message>
</context>
<context>
    <name>ingot::app::StockPage</name>
    <message numerus="yes">
        <source>%n units</source>
        <translation>
            <numerusform>%n unit</numerusform>
            <numerusform>%n units</numerusform>
        </translation>
    </message>
</context>
<context>
    <name>ingot::app::LimitsPage</name>
    <message numerus="yes">
        <source>%n models have absolute limits, set at Sort in the picture; those count before these.</source>
        <translation>
            <numerusform>%n model has absolute limits, set at Sort in the picture; those count before these.</numerusform>
            <numerusform>%n models have absolute limits, set at Sort in the picture; those count before these.</numerusform>
        </translation>
    </message>
</context>
<context>
    <name>ingot::app::QuantityScatter</name>
    <message numerus="yes">
        <source>%1 against %2, %n units</source>
        <translation>
            <numerusform>%1 against %2, %n unit</numerusform>
            <numerusform>%1 against %2, %n units</numerusform>
        </translation>
    </message>
</context>
<context>
    <name>ingot::app::BenchView</name>
    <message numerus="yes">
        <source>%n testers</source>
        <translation>
            <numerusform>%n tester</numerusform>
            <numerusform>%n testers</numerusform>
        </translation>
    </message>
    <message numerus="yes">
        <source>Planning %n units …</source>
        <translation>
            <numerusform>Planning %n unit …</numerusform>
            <numerusform>Planning %n units …</numerusform>
        </translation>
    </message>
    <message numerus="yes">
        <source>Ends %1, bound %2, %n visits</source>
        <translation>
            <numerusform>Ends %1, bound %2, %n visit</numerusform>
            <numerusform>Ends %1, bound %2, %n visits</numerusform>
        </translation>
    </message>
</context>
<context>
    <name>ingot::app::BuildStation</name>
    <message numerus="yes">
        <source>%1S%2P, wants %n units</source>
        <translation>
            <numerusform>%1S%2P, wants %n unit</numerusform>
            <numerusform>%1S%2P, wants %n units</numerusform>
        </translation>
    </message>
    <message numerus="yes">
        <source>%1S%2P, %n units</source>
        <translation>
            <numerusform>%1S%2P, %n unit</numerusform>
            <numerusform>%1S%2P, %n units</numerusform>
        </translation>
    </message>
</context>
<context>
    <name>ingot::app::StepsView</name>
    <message numerus="yes">
        <source>%n units are not read and count as full.</source>
        <translation>
            <numerusform>%n unit is not read and counts as full.</numerusform>
            <numerusform>%n units are not read and count as full.</numerusform>
        </translation>
    </message>
</context>
<context>
    <name>ingot::app::LayoutView</name>
    <message numerus="yes">
        <source>; %n moves by hand</source>
        <translation>
            <numerusform>; %n move by hand</numerusform>
            <numerusform>; %n moves by hand</numerusform>
        </translation>
    </message>
    <message numerus="yes">
        <source>%n rings</source>
        <translation>
            <numerusform>%n ring</numerusform>
            <numerusform>%n rings</numerusform>
        </translation>
    </message>
    <message numerus="yes">
        <source>%n ends clipped</source>
        <translation>
            <numerusform>%n end clipped</numerusform>
            <numerusform>%n ends clipped</numerusform>
        </translation>
    </message>
    <message numerus="yes">
        <source>%n cards, up to %1</source>
        <translation>
            <numerusform>%n card, %1</numerusform>
            <numerusform>%n cards, up to %1</numerusform>
        </translation>
    </message>
    <message numerus="yes">
        <source>%n modules in a row</source>
        <translation>
            <numerusform>%n module in a row</numerusform>
            <numerusform>%n modules in a row</numerusform>
        </translation>
    </message>
    <message numerus="yes">
        <source>resistance of %n units</source>
        <translation>
            <numerusform>resistance of %n unit</numerusform>
            <numerusform>resistance of %n units</numerusform>
        </translation>
    </message>
    <message numerus="yes">
        <source>group %1 is strongest, group %2 stands warmest; &quot;Place by heat&quot; moves %n units</source>
        <translation>
            <numerusform>group %1 is strongest, group %2 stands warmest; &quot;Place by heat&quot; moves %n unit</numerusform>
            <numerusform>group %1 is strongest, group %2 stands warmest; &quot;Place by heat&quot; moves %n units</numerusform>
        </translation>
    </message>
    <message numerus="yes">
        <source>&quot;Place by heat&quot; moves %n units to where they stay cooler</source>
        <translation>
            <numerusform>&quot;Place by heat&quot; moves %n unit to where it stays cooler</numerusform>
            <numerusform>&quot;Place by heat&quot; moves %n units to where they stay cooler</numerusform>
        </translation>
    </message>
</context>
<context>
    <name>ingot::app::GatePicture</name>
    <message numerus="yes">
        <source>%n units not read</source>
        <translation>
            <numerusform>%n unit not read</numerusform>
            <numerusform>%n units not read</numerusform>
        </translation>
    </message>
</context>
<context>
    <name>ingot::app::DonorsPage</name>
    <message numerus="yes">
        <source> A further one brings %1 of a pack; the next lives with %n more.</source>
        <translation>
            <numerusform> A further one brings %1 of a pack; the next lives with %n more.</numerusform>
            <numerusform> A further one brings %1 of a pack; the next lives with %n more.</numerusform>
        </translation>
    </message>
    <message numerus="yes">
        <source>Planning for %n packs …</source>
        <translation>
            <numerusform>Planning for %n pack …</numerusform>
            <numerusform>Planning for %n packs …</numerusform>
        </translation>
    </message>
    <message numerus="yes">
        <source> %n packs of this kind are not read through yet.</source>
        <translation>
            <numerusform> %n pack of this kind is not read through yet.</numerusform>
            <numerusform> %n packs of this kind are not read through yet.</numerusform>
        </translation>
    </message>
    <message numerus="yes">
        <source>%1 of %2 packs can live, %n groups move; %3.%4</source>
        <translation>
            <numerusform>%1 of %2 packs can live, %n group moves; %3.%4</numerusform>
            <numerusform>%1 of %2 packs can live, %n groups move; %3.%4</numerusform>
        </translation>
    </message>
    <message numerus="yes">
        <source>%n packs went to Open.</source>
        <translation>
            <numerusform>%n pack went to Open.</numerusform>
            <numerusform>%n packs went to Open.</numerusform>
        </translation>
    </message>
</context>
<context>
    <name>ingot::app::DutyScatter</name>
    <message numerus="yes">
        <source>%n units</source>
        <translation>
            <numerusform>%n unit</numerusform>
            <numerusform>%n units</numerusform>
        </translation>
    </message>
</context>
<context>
    <name>ingot::app::FileCommands</name>
    <message numerus="yes">
        <source>%n units written to %1.</source>
        <translation>
            <numerusform>%n unit written to %1.</numerusform>
            <numerusform>%n units written to %1.</numerusform>
        </translation>
    </message>
</context>
<context>
    <name>ingot::app::OpenStation</name>
    <message numerus="yes">
        <source>%1: %n units, %2 to %3. Print their labels, stick one on each unit, then scan it at Test.</source>
        <translation>
            <numerusform>%1: %n unit, %2 to %3. Print its label, stick it on, then scan it at Test.</numerusform>
            <numerusform>%1: %n units, %2 to %3. Print their labels, stick one on each unit, then scan it at Test.</numerusform>
        </translation>
    </message>
    <message numerus="yes">
        <source>%n units get the codes %1 to %2%3.</source>
        <translation>
            <numerusform>%n unit gets a code, %1 to %2%3.</numerusform>
            <numerusform>%n units get the codes %1 to %2%3.</numerusform>
        </translation>
    </message>
    <message numerus="yes">
        <source>%n photos are kept with it.</source>
        <translation>
            <numerusform>%n photo is kept with it.</numerusform>
            <numerusform>%n photos are kept with it.</numerusform>
        </translation>
    </message>
</context>
<context>
    <name>ingot::app::Route</name>
    <message numerus="yes">
        <source>packs</source>
        <translation>
            <numerusform>pack</numerusform>
            <numerusform>packs</numerusform>
        </translation>
    </message>
    <message numerus="yes">
        <source>builds</source>
        <translation>
            <numerusform>build</numerusform>
            <numerusform>builds</numerusform>
        </translation>
    </message>
    <message numerus="yes">
        <source>units</source>
        <translation>
            <numerusform>unit</numerusform>
            <numerusform>units</numerusform>
        </translation>
    </message>
</context>
<context>
    <name>ingot::app::TestStation</name>
    <message numerus="yes">
        <source>%n more logs wait.</source>
        <translation>
            <numerusform>%n more log waits.</numerusform>
            <numerusform>%n more logs wait.</numerusform>
        </translation>
    </message>
    <message numerus="yes">
        <source>%1 (%n units)</source>
        <translation>
            <numerusform>%1 (%n unit)</numerusform>
            <numerusform>%1 (%n units)</numerusform>
        </translation>
    </message>
    <message numerus="yes">
        <source>%n units wait for a bay. They are clamped in a row: neighbours will not run at once.</source>
        <translation>
            <numerusform>%n unit waits for a bay. It is clamped in a row: neighbours will not run at once.</numerusform>
            <numerusform>%n units wait for a bay. They are clamped in a row: neighbours will not run at once.</numerusform>
        </translation>
    </message>
    <message numerus="yes">
        <source>%n units wait for a bay.</source>
        <translation>
            <numerusform>%n unit waits for a bay.</numerusform>
            <numerusform>%n units wait for a bay.</numerusform>
        </translation>
    </message>
    <message numerus="yes">
        <source>%n samples written to %1.</source>
        <translation>
            <numerusform>%n sample written to %1.</numerusform>
            <numerusform>%n samples written to %1.</numerusform>
        </translation>
    </message>
    <message numerus="yes">
        <source>%n units wait for a capacity test. Scan a label, or type its last figures.</source>
        <translation>
            <numerusform>%n unit waits for a capacity test. Scan a label, or type its last figures.</numerusform>
            <numerusform>%n units wait for a capacity test. Scan a label, or type its last figures.</numerusform>
        </translation>
    </message>
</context>
<context>
    <name>ingot::app::TraysPage</name>
    <message numerus="yes">
        <source>%n units stand beyond this size. Correct the wells.</source>
        <translation>
            <numerusform>%n unit stands beyond this size. Correct the well.</numerusform>
            <numerusform>%n units stand beyond this size. Correct the wells.</numerusform>
        </translation>
    </message>
</context>
<context>
    <name>ingot::app::TriageStation</name>
    <message numerus="yes">
        <source>The chances begin with what %n packs of this kind turned out to be.</source>
        <translation>
            <numerusform>The chances begin with what %n pack of this kind turned out to be.</numerusform>
            <numerusform>The chances begin with what %n packs of this kind turned out to be.</numerusform>
        </translation>
    </message>
    <message numerus="yes">
        <source>Half as much with what %n others of the shop like it had.</source>
        <translation>
            <numerusform>Half as much with what %n other of the shop like it had.</numerusform>
            <numerusform>Half as much with what %n others of the shop like it had.</numerusform>
        </translation>
    </message>
    <message numerus="yes">
        <source>%1, %n readings</source>
        <translation>
            <numerusform>%1, %n reading</numerusform>
            <numerusform>%1, %n readings</numerusform>
        </translation>
    </message>
    <message numerus="yes">
        <source>The group has %n units; those are more.</source>
        <translation>
            <numerusform>The group has %n unit; those are more.</numerusform>
            <numerusform>The group has %n units; those are more.</numerusform>
        </translation>
    </message>
</context>
<context>
    <name>ingot::wording</name>
    <message numerus="yes">
        <source>%n groups</source>
        <translation>
            <numerusform>%n group</numerusform>
            <numerusform>%n groups</numerusform>
        </translation>
    </message>
    <message numerus="yes">
        <source>%n rows over %1 h</source>
        <translation>
            <numerusform>%n row over %1 h</numerusform>
            <numerusform>%n rows over %1 h</numerusform>
        </translation>
    </message>
    <message numerus="yes">
        <source>%n more jumps.</source>
        <translation>
            <numerusform>%n more jump.</numerusform>
            <numerusform>%n more jumps.</numerusform>
        </translation>
    </message>
    <message numerus="yes">
        <source>%n minutes</source>
        <translation>
            <numerusform>%n minute</numerusform>
            <numerusform>%n minutes</numerusform>
        </translation>
    </message>
</context>
<context>
    <name>ingot::app</name>
    <message numerus="yes">
        <source>%n units of models without a mass in the library are counted, not weighed.</source>
        <translation>
            <numerusform>%n unit of a model without a mass in the library is counted, not weighed.</numerusform>
            <numerusform>%n units of models without a mass in the library are counted, not weighed.</numerusform>
        </translation>
    </message>
</context>
<context>
    <name>ingot::app::MainWindow</name>
    <message numerus="yes">
        <source>%n bays are running. Leave all the same?</source>
        <translation>
            <numerusform>%n bay is running. Leave all the same?</numerusform>
            <numerusform>%n bays are running. Leave all the same?</numerusform>
        </translation>
    </message>
</context>
<context>
    <name>ingot::app::LedgerPage</name>
    <message numerus="yes">
        <source>%n rows written to %1.</source>
        <translation>
            <numerusform>%n row written to %1.</numerusform>
            <numerusform>%n rows written to %1.</numerusform>
        </translation>
    </message>
</context>
<context>
    <name>ingot::app::Page</name>
    <message numerus="yes">
        <source>%n readings brought in.</source>
        <translation>
            <numerusform>%n reading brought in.</numerusform>
            <numerusform>%n readings brought in.</numerusform>
        </translation>
    </message>
    <message numerus="yes">
        <source>Recorded. Right first in %1 of %n packs, where %2 was claimed.</source>
        <translation>
            <numerusform>Recorded. Right first in %1 of %n pack, where %2 was claimed.</numerusform>
            <numerusform>Recorded. Right first in %1 of %n packs, where %2 was claimed.</numerusform>
        </translation>
    </message>
</context>
<context>
    <name>ingot::app::ReceiveStation</name>
    <message numerus="yes">
        <source>send %n packs to Open</source>
        <translation>
            <numerusform>send %n pack to Open</numerusform>
            <numerusform>send %n packs to Open</numerusform>
        </translation>
    </message>
    <message numerus="yes">
        <source>%n packs wait at Open.</source>
        <translation>
            <numerusform>%n pack waits at Open.</numerusform>
            <numerusform>%n packs wait at Open.</numerusform>
        </translation>
    </message>
    <message numerus="yes">
        <source>%n units, %1 to %2. Print their labels at Open, then scan them at Test.</source>
        <translation>
            <numerusform>%n unit, %1. Print its label at Open, then scan it at Test.</numerusform>
            <numerusform>%n units, %1 to %2. Print their labels at Open, then scan them at Test.</numerusform>
        </translation>
    </message>
</context>
<context>
    <name>ingot::app::RestPage</name>
    <message numerus="yes">
        <source>The self-discharge of %n units was kept.</source>
        <translation>
            <numerusform>The self-discharge of %n unit was kept.</numerusform>
            <numerusform>The self-discharge of %n units was kept.</numerusform>
        </translation>
    </message>
</context>
<context>
    <name>ingot::app::HandPage</name>
    <message numerus="yes">
        <source>Run %n more.</source>
        <translation>
            <numerusform>Run %n more.</numerusform>
            <numerusform>Run %n more.</numerusform>
        </translation>
    </message>
</context>
<context>
    <name>ingot::app::RestPicture</name>
    <message numerus="yes">
        <source>%n days</source>
        <translation>
            <numerusform>%n day</numerusform>
            <numerusform>%n days</numerusform>
        </translation>
    </message>
    <message numerus="yes">
        <source>%n units</source>
        <translation>
            <numerusform>%n unit</numerusform>
            <numerusform>%n units</numerusform>
        </translation>
    </message>
</context>
<context>
    <name>ingot::app::MatchStation</name>
    <message numerus="yes">
        <source>Units of %n builds are reserved; Build leads to their trays.</source>
        <translation>
            <numerusform>Units of %n build are reserved; Build leads to their trays.</numerusform>
            <numerusform>Units of %n builds are reserved; Build leads to their trays.</numerusform>
        </translation>
    </message>
</context>
<context>
    <name>ingot::app::SeveralView</name>
    <message numerus="yes">
        <source>It needs %n units, and too few are left that it may use.</source>
        <translation>
            <numerusform>It needs %n unit, and none is left that it may use.</numerusform>
            <numerusform>It needs %n units, and too few are left that it may use.</numerusform>
        </translation>
    </message>
    <message numerus="yes">
        <source>Finish %n units that wait for a verdict</source>
        <translation>
            <numerusform>Finish %n unit that waits for a verdict</numerusform>
            <numerusform>Finish %n units that wait for a verdict</numerusform>
        </translation>
    </message>
</context>
<context>
    <name>ingot::app::BuildLanes</name>
    <message numerus="yes">
        <source>%n units, by capacity</source>
        <translation>
            <numerusform>%n unit, by capacity</numerusform>
            <numerusform>%n units, by capacity</numerusform>
        </translation>
    </message>
</context>
<context>
    <name>ingot::app::BookPage</name>
    <message numerus="yes">
        <source>%n jobs, estimated %1 h</source>
        <translation>
            <numerusform>%n job, estimated %1 h</numerusform>
            <numerusform>%n jobs, estimated %1 h</numerusform>
        </translation>
    </message>
    <message numerus="yes">
        <source>%1: %n jobs took %2 h, estimated %3 h</source>
        <translation>
            <numerusform>%1: %n job took %2 h, estimated %3 h</numerusform>
            <numerusform>%1: %n jobs took %2 h, estimated %3 h</numerusform>
        </translation>
    </message>
    <message numerus="yes">
        <source>Of %n packs it is known what they turned out to be.</source>
        <translation>
            <numerusform>Of %n pack it is known what it turned out to be.</numerusform>
            <numerusform>Of %n packs it is known what they turned out to be.</numerusform>
        </translation>
    </message>
    <message numerus="yes">
        <source>%n packs</source>
        <translation>
            <numerusform>%n pack</numerusform>
            <numerusform>%n packs</numerusform>
        </translation>
    </message>
    <message numerus="yes">
        <source>%n units</source>
        <translation>
            <numerusform>%n unit</numerusform>
            <numerusform>%n units</numerusform>
        </translation>
    </message>
</context>
<context>
    <name>ingot::app::FieldView</name>
    <message numerus="yes">
        <source>%n rounds so far, the last on %1.</source>
        <translation>
            <numerusform>One round so far, on %1.</numerusform>
            <numerusform>%n rounds so far, the last on %1.</numerusform>
        </translation>
    </message>
</context>
<context>
    <name>ingot::app::ShelfWatch</name>
    <message numerus="yes">
        <source>read %n units</source>
        <translation>
            <numerusform>read one unit</numerusform>
            <numerusform>read %n units</numerusform>
        </translation>
    </message>
</context>
<context>
    <name>ingot::app::FieldPicture</name>
    <message numerus="yes">
        <source>%n rounds</source>
        <translation>
            <numerusform>one round</numerusform>
            <numerusform>%n rounds</numerusform>
        </translation>
    </message>
</context>
<context>
    <name>ingot::app::TestersPage</name>
    <message numerus="yes">
        <source>%n bays of it are taken.</source>
        <translation>
            <numerusform>%n bay of it is taken.</numerusform>
            <numerusform>%n bays of it are taken.</numerusform>
        </translation>
    </message>
</context>
<context>
    <name>ingot::TestersModel</name>
    <message numerus="yes">
        <source>%n bays</source>
        <translation>
            <numerusform>%n bay</numerusform>
            <numerusform>%n bays</numerusform>
        </translation>
    </message>
</context>
<context>
    <name>ingot::app::CourseView</name>
    <message numerus="yes">
        <source>%n rows of %1 are read.</source>
        <translation>
            <numerusform>%n row of %1 is read.</numerusform>
            <numerusform>%n rows of %1 are read.</numerusform>
        </translation>
    </message>
    <message numerus="yes">
        <source>%n figures of the log stand in the proof.</source>
        <translation>
            <numerusform>%n figure of the log stands in the proof.</numerusform>
            <numerusform>%n figures of the log stand in the proof.</numerusform>
        </translation>
    </message>
</context>
</TS>
