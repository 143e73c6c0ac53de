using Nippers.Core.Hours;

namespace Nippers.App;

/// <summary>
/// Every reason for which something is not done, one factory each; the words stand under <c>Refused.</c> and the code. A field is
/// the name of the input that the words stand beside; those without one are said of the whole form, or always of the same.
/// </summary>
public static class Refusals
{
    /// <summary>This must be more than 0.</summary>
    public static Refusal AboveZero(string field) => new(field, "aboveZero");

    /// <summary>Act must lie above watch.</summary>
    public static Refusal ActAboveWatch(string field) => new(field, "actAboveWatch");

    /// <summary>This was recorded already; nothing was changed.</summary>
    public static Refusal AlreadyDone() => new("", "alreadyDone");

    /// <summary>It is parked already.</summary>
    public static Refusal AlreadyParked() => new("", "alreadyParked");

    /// <summary><paramref name="part"/> is there already.</summary>
    public static Refusal AlternateThere(string part) => new("other", "alternateThere", part);

    /// <summary>“<paramref name="asked"/>” is not answered that way.</summary>
    public static Refusal AnswerUnfit(string asked) => new("", "answerUnfit", asked);

    /// <summary><paramref name="by"/> answered this meanwhile. Look at it; if yours is right, press again.</summary>
    public static Refusal AnsweredMeanwhile(string by) => new("", "answeredMeanwhile", by);

    /// <summary>
    /// <paramref name="shown"/> h is below the <paramref name="before"/> h read on <paramref name="at"/>. A meter does not run
    /// back: read it again, or record a replaced meter.
    /// </summary>
    public static Refusal Backward(MeterHours shown, MeterHours before, DateTimeOffset at) => new("hours", "backward", shown, before, at);

    /// <summary><paramref name="shown"/> h lies ahead of what the meter shows now, about <paramref name="last"/> h.</summary>
    public static Refusal BaselineAhead(MeterHours shown, MeterHours last) => new("hours", "baselineAhead", shown, last);

    /// <summary>That is before this machine came to us, on <paramref name="commissionedOn"/>.</summary>
    public static Refusal BeforeCommissioning(string field, DateOnly commissionedOn) => new(field, "beforeCommissioning", commissionedOn);

    /// <summary>That is below the <paramref name="commissionedHours"/> h it had when it came to us.</summary>
    public static Refusal BelowCommissioning(MeterHours commissionedHours) => new("hours", "belowCommissioning", commissionedHours);

    /// <summary>Must lie between <paramref name="least"/> and <paramref name="most"/>.</summary>
    public static Refusal Between(string field, double least, double most) => new(field, "between", least, most);

    /// <summary><paramref name="shown"/> h does not fit the <paramref name="next"/> h read later, on <paramref name="at"/>.</summary>
    public static Refusal BeyondNext(MeterHours shown, MeterHours next, DateTimeOffset at) => new("hours", "beyondNext", shown, next, at);

    /// <summary>Bottle <paramref name="mark"/> was prepared for <paramref name="unit"/>, <paramref name="compartment"/>.</summary>
    public static Refusal BottleOther(string mark, string unit, string compartment) =>
        new("bottle", "bottleOther", mark, unit, compartment);

    /// <summary>
    /// <paramref name="code"/> has a slip in it: one character is wrong. Look again, or put ? for the one that can't be read.
    /// </summary>
    public static Refusal BottleSlip(string code) => new("line", "bottleSlip", code);

    /// <summary>Bottle <paramref name="mark"/> is used already. Each bottle has its own code.</summary>
    public static Refusal BottleTaken(string field, string mark) => new(field, "bottleTaken", mark);

    /// <summary>Nobody has taken a sample in bottle <paramref name="code"/>.</summary>
    public static Refusal BottleUnknown(string field, string code) => new(field, "bottleUnknown", code);

    /// <summary>The wait before it is not over: <paramref name="minutes"/> minutes are left. Wait, or say why it is done now.</summary>
    public static Refusal TooEarly(string field, int minutes) => new(field, "tooEarly", minutes);

    /// <summary>The locks are <paramref name="who"/>'s: they take them off, or hand the machine over first.</summary>
    public static Refusal LockOfAnother(string who) => new("", "lockOfAnother", who);

    /// <summary>Something of it may be off or open: say what, or that nothing is.</summary>
    public static Refusal LeaveOff(string field, IReadOnlyList<string> things) => new(field, "leaveOff", things);

    /// <summary>What is open is recorded first, by its own step.</summary>
    public static Refusal RecordFirst(string field, string step) => new(field, "recordFirst", step);

    /// <summary>Say whether the machine comes cold or warm.</summary>
    public static Refusal HeatNeeded(string field) => new(field, "heatNeeded");

    /// <summary>Only who holds it hands it over: <paramref name="who"/>.</summary>
    public static Refusal NotHolder(string? who) => new("", "notHolder", who);

    /// <summary>Somebody else is meant, or nobody.</summary>
    public static Refusal NotHandedToYou(string? who) => new("", "notHandedToYou", who);

    /// <summary>Say that your own lock and tag are on.</summary>
    public static Refusal OwnLockNeeded(string field) => new(field, "ownLockNeeded");

    /// <summary>Nobody of that name works here.</summary>
    public static Refusal NoSuchPerson(string field) => new(field, "noSuchPerson");

    /// <summary>It is not locked out: a card is closed so only on a machine whose locks stay on.</summary>
    public static Refusal NotLockedOut() => new("", "notLockedOut");

    /// <summary>The engine ran not long ago: <paramref name="minutes"/> minutes are left before the coolant may be opened.</summary>
    public static Refusal CoolantHot(int minutes) => new("", "coolantHot", minutes);

    /// <summary>Two people: <paramref name="who"/> wrote the first of the two.</summary>
    public static Refusal SecondPerson(string who) => new("", "secondPerson", who);

    /// <summary>No order of its steps is safe; <paramref name="why"/> says what stands in the way.</summary>
    public static Refusal CardImpossible(string why) => new("", "cardImpossible", why);

    /// <summary>This job card is not open.</summary>
    public static Refusal CardNotOpen() => new("", "cardNotOpen");

    /// <summary>Somebody changed this meanwhile. Nothing was saved: load the page again and look first.</summary>
    public static Refusal ChangedMeanwhile() => new("", "changedMeanwhile");

    /// <summary>The code of an item stays, because its history hangs on it.</summary>
    public static Refusal CodeFixed(string field) => new(field, "codeFixed");

    /// <summary>Small letters, digits and dashes only, such as engine-oil.</summary>
    public static Refusal CodeShape(string field = "code") => new(field, "codeShape");

    /// <summary>
    /// <paramref name="code"/> is no code. Write SPN/FMI, for example 100/1, or what the display shows with its letter, for example
    /// E361(2).
    /// </summary>
    public static Refusal CodeShapeSpn(string field, string code) => new(field, "codeShapeSpn", code);

    /// <summary><paramref name="code"/> is taken.</summary>
    public static Refusal CodeTaken(string field, string code) => new(field, "codeTaken", code);

    /// <summary>Enter the codes, or press None shown.</summary>
    public static Refusal CodesNeeded(string field) => new(field, "codesNeeded");

    /// <summary>At most <paramref name="most"/> codes.</summary>
    public static Refusal CodesTooMany(string field, int most) => new(field, "codesTooMany", most);

    /// <summary>Two columns mean the same: <paramref name="columns"/>.</summary>
    public static Refusal ColumnTwice(IReadOnlyList<string> columns) => new("file", "columnTwice", columns);

    /// <summary>It was voided already.</summary>
    public static Refusal CoolantGone() => new("", "coolantGone");

    /// <summary>Enter at least one figure.</summary>
    public static Refusal CoolantNothing() => new("share", "coolantNothing");

    /// <summary>There are only <paramref name="most"/>.</summary>
    public static Refusal CountOver(string field, int most) => new(field, "countOver", most);

    /// <summary>That date has not come yet.</summary>
    public static Refusal DateInFuture(string field) => new(field, "dateInFuture");

    /// <summary>That day has passed. The earliest is <paramref name="today"/>.</summary>
    public static Refusal DateInPast(DateOnly today) => new("on", "dateInPast", today);

    /// <summary>That is too far ahead. The latest is <paramref name="latest"/>.</summary>
    public static Refusal DateTooFar(DateOnly latest) => new("on", "dateTooFar", latest);

    /// <summary>Tick at least one day.</summary>
    public static Refusal DaysNeeded() => new("days", "daysNeeded");

    /// <summary>A comma may part thousands or decimals here. Use a dot for decimals.</summary>
    public static Refusal DecimalComma(string field) => new(field, "decimalComma");

    /// <summary>This defect is not open any more. Load the page again.</summary>
    public static Refusal DefectNotOpen() => new("", "defectNotOpen");

    /// <summary>This defect does not wait for its return.</summary>
    public static Refusal DefectNotRepaired() => new("", "defectNotRepaired");

    /// <summary>
    /// <paramref name="itemCode"/> was recorded by <paramref name="by"/> at <paramref name="at"/>, while this page was open.
    /// Nothing was saved: look, then record again if it was done twice.
    /// </summary>
    public static Refusal DoneMeanwhile(string itemCode, string by, DateTimeOffset at) => new("items", "doneMeanwhile", itemCode, by, at);

    /// <summary>That file was looked at too long ago. Bring it again.</summary>
    public static Refusal DraftGone() => new("", "draftGone");

    /// <summary>Set both, or neither.</summary>
    public static Refusal DrainBoth(string field) => new(field, "drainBoth");

    /// <summary>The cap must lie above the base interval.</summary>
    public static Refusal DrainCap() => new("drainCap", "drainCap");

    /// <summary>Say whether it stands as it was parked.</summary>
    public static Refusal ParkedNeeded(string field) => new(field, "parkedNeeded");

    /// <summary>Unplug the block heater first, and stow its cord.</summary>
    public static Refusal HeaterNeeded(string field) => new(field, "heaterNeeded");

    /// <summary>A meaning belongs to one code: enter them one by one.</summary>
    public static Refusal MeaningOfOne(string field) => new(field, "meaningOfOne");

    /// <summary>Tick what was done.</summary>
    public static Refusal ParkingEmpty(string field) => new(field, "parkingEmpty");

    /// <summary>No photo is asked of this check.</summary>
    public static Refusal PhotoNotAsked() => new("", "photoNotAsked");

    /// <summary>Choose a photo.</summary>
    public static Refusal PhotoNeeded() => new("photo", "photoNeeded");

    /// <summary>Say what came out.</summary>
    public static Refusal DrainNeeded(string field) => new(field, "drainNeeded");

    /// <summary>Faults without a defect: <paramref name="checks"/>. Write what is wrong there, or look again.</summary>
    public static Refusal FaultsUnwritten(IReadOnlyList<string> checks) => new("", "faultsUnwritten", checks);

    /// <summary>The filter can't hold more than the whole.</summary>
    public static Refusal FilterAboveCapacity(string field) => new(field, "filterAboveCapacity");

    /// <summary>Each line: name; price. A line can't be read, or a name is there twice.</summary>
    public static Refusal FluidLines() => new("fluids", "fluidLines");

    /// <summary>The program holds <paramref name="listed"/>.</summary>
    public static Refusal FluidNotListed(string field, IReadOnlyList<string> listed) => new(field, "fluidNotListed", listed);

    /// <summary>Write name: coldest..warmest, semicolons between, from -60 to 60.</summary>
    public static Refusal FluidRanges() => new("fluids", "fluidRanges");

    /// <summary>Another folder goes there already.</summary>
    public static Refusal FolderSame(string field) => new(field, "folderSame");

    /// <summary>Nothing can be written into that folder.</summary>
    public static Refusal FolderShut(string field) => new(field, "folderShut");

    /// <summary>That time has not come yet.</summary>
    public static Refusal Future(string field) => new(field, "future");

    /// <summary>This check fails at a graver grade. A technician may change it afterwards.</summary>
    public static Refusal GradeBelowCheck() => new("grade", "gradeBelowCheck");

    /// <summary>Nothing was looked at: there is no walk to sign off.</summary>
    public static Refusal NothingLookedAt() => new("", "nothingLookedAt");

    /// <summary>A check stands in this position.</summary>
    public static Refusal PostureInUse(string code, string check) => new("", "postureInUse", code, check);

    /// <summary>There is at least one position and there are not more than so many.</summary>
    public static Refusal PosturesBetween(int most) => new("", "posturesBetween", most);

    /// <summary>Choose a grade.</summary>
    public static Refusal GradeNeeded() => new("grade", "gradeNeeded");

    /// <summary>Say what it is on.</summary>
    public static Refusal PartNeeded() => new("on", "partNeeded");

    /// <summary>Only its owner takes a lock or tag off; when the owner is away, the site's responsible person.</summary>
    public static Refusal TagOfAnother() => new("ownerRemoved", "tagOfAnother");

    /// <summary>Say how the owner of the lock or tag was tried, and who tells them before they come back to work.</summary>
    public static Refusal OwnerTriedNeeded() => new("ownerTried", "ownerTriedNeeded");

    /// <summary>That check of that walk was made, or never left out.</summary>
    public static Refusal NothingUnchecked() => new("", "nothingUnchecked");

    /// <summary>Above the glass: see first that the machine stands in its level position.</summary>
    public static Refusal PositionFirst(string field) => new(field, "positionFirst");

    /// <summary>More volts than a battery at rest has: a charger is on, or the engine has just run.</summary>
    public static Refusal NoRestVolts(string field, double most) => new(field, "noRestVolts", most);

    /// <summary>A stop for brakes, steering, structure or seat belt is not graded down.</summary>
    public static Refusal GradeNeverDown() => new("grade", "gradeNeverDown");

    /// <summary>Only a stop needs to be asked for.</summary>
    public static Refusal GradeNotAStop() => new("grade", "gradeNotAStop");

    /// <summary>A safety-critical fault stops the machine. It can be graded down later only where that is allowed.</summary>
    public static Refusal GradeSafety() => new("grade", "gradeSafety");

    /// <summary>It has this grade already.</summary>
    public static Refusal GradeSame() => new("grade", "gradeSame");

    /// <summary>The high must be above the low.</summary>
    public static Refusal HighAboveLow() => new("highC", "highAboveLow");

    /// <summary>Must not lie below the least.</summary>
    public static Refusal HighBelowLow() => new("high", "highBelowLow");

    /// <summary>That is more than any meter shows: <paramref name="most"/> h at most.</summary>
    public static Refusal HoursTooLarge(string field, MeterHours most) => new(field, "hoursTooLarge", most);

    /// <summary>Three clock hours from 1 to 12: drain, level, fill.</summary>
    public static Refusal HubShape(string field) => new(field, "hubShape");

    /// <summary>Nothing was kept: <paramref name="rows"/> rows are refused now. Bring the file again to see which.</summary>
    public static Refusal ImportRefused(int rows) => new("", "importRefused", rows);

    /// <summary>Give hours, months, or a break-in.</summary>
    public static Refusal IntervalNeeded() => new("everyHours", "intervalNeeded");

    /// <summary><paramref name="item"/> was skipped. Take it up again first.</summary>
    public static Refusal ItemLeft(string item) => new("", "itemLeft", item);

    /// <summary><paramref name="item"/> is on the job card already.</summary>
    public static Refusal ItemOnCard(string item) => new("item", "itemOnCard", item);

    /// <summary>The key is longer than <paramref name="most"/> characters.</summary>
    public static Refusal KeyTooLong(int most) => new("", "keyTooLong", most);

    /// <summary>Something else was kept under this key. Nothing was kept now: look at what was, and save again to keep this too.</summary>
    public static Refusal KeyUsed() => new("", "keyUsed");

    /// <summary>The name has to begin with a letter.</summary>
    public static Refusal KindNeedsLetters() => new("name", "kindNeedsLetters");

    /// <summary>There is a kind called <paramref name="name"/> already.</summary>
    public static Refusal KindTaken(string name) => new("name", "kindTaken", name);

    /// <summary>Write the code as three numbers, for example 18/16/13.</summary>
    public static Refusal LabIso(string field) => new(field, "labIso");

    /// <summary>Choose the lab.</summary>
    public static Refusal LabNeeded() => new("lab", "labNeeded");

    /// <summary>It holds no figure.</summary>
    public static Refusal LabNothing() => new("", "labNothing");

    /// <summary>That day has not come yet.</summary>
    public static Refusal LateNotPast() => new("lateOn", "lateNotPast");

    /// <summary>At most <paramref name="days"/> days back.</summary>
    public static Refusal LateTooLong(int days) => new("lateOn", "lateTooLong", days);

    /// <summary>Then nobody could plan any more: one planner who can sign in must remain.</summary>
    public static Refusal LastPlanner() => new("", "lastPlanner");

    /// <summary>A later meter change is on record.</summary>
    public static Refusal LaterSwap() => new("at", "laterSwap");

    /// <summary>Checks that are not done: <paramref name="count"/>. Say why they are skipped, or go and do them.</summary>
    public static Refusal LeftOutNeeded(int count) => new("leftOut", "leftOutNeeded", count);

    /// <summary>A limit needs hours, days or both.</summary>
    public static Refusal LimitNeeded() => new("limitHours", "limitNeeded");

    /// <summary>Set both, or neither.</summary>
    public static Refusal LimitsBoth(string field) => new(field, "limitsBoth");

    /// <summary>1 to <paramref name="most"/> lines.</summary>
    public static Refusal LinesBetween(string field, int most) => new(field, "linesBetween", most);

    /// <summary>That is far more than it holds (<paramref name="most"/>). Check the figure.</summary>
    public static Refusal LitresTooMuch(string field, double most) => new(field, "litresTooMuch", most);

    /// <summary>Say how it looks.</summary>
    public static Refusal LookNeeded(string field) => new(field, "lookNeeded");

    /// <summary>Somebody has settled it meanwhile.</summary>
    public static Refusal LooseGone() => new("", "looseGone");

    /// <summary>This machine is retired.</summary>
    public static Refusal MachineRetired() => new("", "machineRetired");

    /// <summary>This is needed.</summary>
    public static Refusal Needed(string field) => new(field, "needed");

    // A field that was left empty names nothing that could be unknown.
    private static bool IsEmpty(string field, string? name) => field.Length > 0 && string.IsNullOrWhiteSpace(name);

    /// <summary>New and limit must differ.</summary>
    public static Refusal NewIsLimit() => new("new", "newIsLimit");

    /// <summary>No column is matched to the bottle. Say below which one it is.</summary>
    public static Refusal NoBottleColumn() => new("file", "noBottleColumn");

    /// <summary>It is not known which fluid is in it.</summary>
    public static Refusal NoFluid() => new("", "noFluid");

    /// <summary>Tick what was done.</summary>
    public static Refusal NoItems() => new("items", "noItems");

    /// <summary>Nothing of that name can be opened.</summary>
    public static Refusal NoSuchAccess() => new("access", "noSuchAccess");

    /// <summary>This check is not in the machine's list.</summary>
    public static Refusal NoSuchCheck(string field, string check) => new(field, "noSuchCheck", check);

    /// <summary>The program does not have this place.</summary>
    public static Refusal NoSuchCompartment(string field) => new(field, "noSuchCompartment");

    /// <summary>There is no such defect.</summary>
    public static Refusal NoSuchDefect() => new("", "noSuchDefect");

    /// <summary>There is no fluid <paramref name="fluid"/>.</summary>
    public static Refusal NoSuchFluid(string fluid) => new("", "noSuchFluid", fluid);

    /// <summary>There is no such folder; the whole path is needed.</summary>
    public static Refusal NoSuchFolder(string field) => new(field, "noSuchFolder");

    /// <summary>This machine does not have the item <paramref name="item"/>.</summary>
    public static Refusal NoSuchItem(string field, string? item) => IsEmpty(field, item) ? Needed(field) : new(field, "noSuchItem", item);

    /// <summary>There is no kind of machine called <paramref name="code"/>.</summary>
    public static Refusal NoSuchMachineKind(string field, string? code) => new(field, "noSuchMachineKind", code);

    /// <summary>Nippers does not know the option <paramref name="option"/>.</summary>
    public static Refusal NoSuchOption(string field, string option) => new(field, "noSuchOption", option);

    /// <summary>This place is not on the machine.</summary>
    public static Refusal NoSuchPlace(string field) => new(field, "noSuchPlace");

    /// <summary>There is no position <paramref name="code"/>.</summary>
    public static Refusal NoSuchPosition(string code) => new("", "noSuchPosition", code);

    /// <summary>There is no such program.</summary>
    public static Refusal NoSuchProgram(string field) => new(field, "noSuchProgram");

    /// <summary>There is no such role.</summary>
    public static Refusal NoSuchRole() => new("role", "noSuchRole");

    /// <summary>There is no such sample.</summary>
    public static Refusal NoSuchSample() => new("", "noSuchSample");

    /// <summary>There is no such site.</summary>
    public static Refusal NoSuchSite(string field) => new(field, "noSuchSite");

    /// <summary>There is no such step on this walkaround.</summary>
    public static Refusal NoSuchStep() => new("", "noSuchStep");

    /// <summary>No machine has the unit <paramref name="unit"/>.</summary>
    public static Refusal NoSuchUnit(string field, string unit, IReadOnlyList<string> near) => new(field, "noSuchUnit", unit, near);

    /// <summary>There is no such visit.</summary>
    public static Refusal NoSuchVisit() => new("", "noSuchVisit");

    /// <summary>There is no such walkaround.</summary>
    public static Refusal NoSuchWalk() => new("", "noSuchWalk");

    /// <summary>Choose a walkaround list.</summary>
    public static Refusal NoSuchWalkList(string field) => new(field, "noSuchWalkList");

    /// <summary>There is no such time zone. Use a name such as Europe/London.</summary>
    public static Refusal NoSuchZone() => new("zone", "noSuchZone");

    /// <summary>This needs a network.</summary>
    public static Refusal NeedsNetwork(string field) => new(field, "needsNetwork");

    /// <summary>This machine has no walkaround list. Give it one under its data.</summary>
    public static Refusal NoWalkList() => new("", "noWalkList");

    /// <summary>Choose at least one.</summary>
    public static Refusal NoneChosen() => new("", "noneChosen");

    /// <summary>Enter a date.</summary>
    public static Refusal NotADate(string field) => new(field, "notADate");

    /// <summary>A number is needed here.</summary>
    public static Refusal NotANumber(string field) => new(field, "notANumber");

    /// <summary>Enter a time such as 07:00.</summary>
    public static Refusal NotATime(string field) => new(field, "notATime");

    /// <summary>This check measures no wear part.</summary>
    public static Refusal NotAWearPart() => new("new", "notAWearPart");

    /// <summary>Write an address such as https://lab.example.</summary>
    public static Refusal NotAnAddress() => new("url", "notAnAddress");

    /// <summary>That is an address inside a network. Tick that it stands in your own.</summary>
    public static Refusal InsideNetwork() => new("url", "labInside");

    /// <summary>What it says is from the future.</summary>
    public static Refusal FeedFuture() => new("", "feedFuture");

    /// <summary>Its hours are refused as a reading would be.</summary>
    public static Refusal FeedReading() => new("", "feedReading");

    /// <summary>A figure of it is none.</summary>
    public static Refusal FeedFigure() => new("", "feedFigure");

    /// <summary>This is no parameter number of a fault code.</summary>
    public static Refusal NotASpn(string said) => new("stopSpns", "notASpn", said, Core.Walk.FaultCode.LargestSpn);

    /// <summary>What it says has another shape.</summary>
    public static Refusal FeedShape() => new("", "feedShape");

    /// <summary>Its codes are none.</summary>
    public static Refusal FeedCodes() => new("", "feedCodes");

    /// <summary>The machine is told of by a feed already.</summary>
    public static Refusal HasFeed(string unit) => new("unit", "hasFeed", unit);

    /// <summary>This is no name of a server.</summary>
    public static Refusal NotAHost() => new("host", "notAHost");

    /// <summary>A password is not sent over an open line.</summary>
    public static Refusal OpenPassword() => new("security", "openPassword");

    /// <summary>This is no mail address.</summary>
    public static Refusal NotAMailAddress(string field) => new(field, "notAMailAddress");

    /// <summary>Messages are switched off.</summary>
    public static Refusal MailIsOff() => new("", "mailIsOff");

    /// <summary>Choose one of those that are offered.</summary>
    public static Refusal ChooseOne(string field) => new(field, "chooseOne");

    /// <summary>This is no address under which people reach Nippers: https://, then the name, and nothing else.</summary>
    public static Refusal NotPublicAddress() => new("publicAddress", "notPublicAddress");

    /// <summary>It is not parked.</summary>
    public static Refusal NotParked() => new("", "notParked");

    /// <summary>Nobody asks for this any more.</summary>
    public static Refusal NothingAsked() => new("", "nothingAsked");

    /// <summary>Only oil of at most <paramref name="most"/> h passes for new.</summary>
    public static Refusal OilNotNew(MeterHours most) => new("", "oilNotNew", most);

    /// <summary>An item done only once needs its break-in hours.</summary>
    public static Refusal OnceNeedsFirst() => new("firstAtHours", "onceNeedsFirst");

    /// <summary>
    /// <paramref name="unit"/> is out of service. Tick that you know it; only what is looked at with the engine off is asked.
    /// </summary>
    public static Refusal OutOfService(string unit) => new("knowsStopped", "outOfService", unit);

    /// <summary>A part needs no leave to stand in for itself.</summary>
    public static Refusal PartItself() => new("other", "partItself");

    /// <summary><paramref name="shown"/> km is less than the <paramref name="before"/> km read on <paramref name="at"/>.</summary>
    public static Refusal KmBackward(double shown, double before, DateTimeOffset at) => new("km", "kmBackward", shown, before, at);

    /// <summary><paramref name="shown"/> km does not fit the <paramref name="next"/> km read later, on <paramref name="at"/>.</summary>
    public static Refusal KmBeyondNext(double shown, double next, DateTimeOffset at) => new("km", "kmBeyondNext", shown, next, at);

    /// <summary>Nobody drives from <paramref name="before"/> km, on <paramref name="at"/>, to <paramref name="shown"/> km in that time.</summary>
    public static Refusal KmTooFast(double shown, double before, DateTimeOffset at) => new("km", "kmTooFast", shown, before, at);

    /// <summary>About <paramref name="expected"/> km were expected. Say that it really shows so.</summary>
    public static Refusal KmUnusual(double expected) => new("km", "kmUnusual", expected);

    /// <summary>Choose one of the units.</summary>
    public static Refusal NoSuchUnits() => new("units", "noSuchUnits");

    public static Refusal NoSuchLanguage() => new("language", "noSuchLanguage");

    /// <summary><paramref name="unit"/> has no odometer.</summary>
    public static Refusal NoOdometer(string unit, string field = "unit") => new(field, "noOdometer", unit);

    /// <summary>That reading is gone: somebody else was quicker.</summary>
    public static Refusal OdometerGone() => new("", "odometerGone");

    /// <summary>Not a part: <paramref name="line"/></summary>
    public static Refusal PartLine(string line) => new("parts", "partLine", line);

    /// <summary>Not a place: <paramref name="line"/></summary>
    public static Refusal PlaceLine(string line) => new("places", "placeLine", line);

    /// <summary><paramref name="number"/> is not listed for this place (<paramref name="part"/> is). Say why it may go there.</summary>
    public static Refusal PartNotListed(string number, string part) => new("reason", "partNotListed", number, part);

    /// <summary>Letters, digits, blanks, dots, dashes and slashes, 2 to 30.</summary>
    public static Refusal PartNumberShape() => new("number", "partNumberShape");

    /// <summary><paramref name="number"/> is in the catalogue already.</summary>
    public static Refusal PartTaken(string number) => new("number", "partTaken", number);

    /// <summary><paramref name="number"/> is not in the catalogue.</summary>
    public static Refusal PartUnknown(string field, string number) =>
        IsEmpty(field, number) ? Needed(field) : new(field, "partUnknown", number);

    /// <summary>This file is no picture that Nippers reads: JPEG, PNG or WebP.</summary>
    public static Refusal PhotoNotAPicture() => new("photo", "photoNotAPicture");

    /// <summary>A photo may have <paramref name="megabytes"/> MB at most.</summary>
    public static Refusal PhotoTooLarge(int megabytes) => new("photo", "photoTooLarge", megabytes);

    /// <summary>This picture has more than <paramref name="megapixels"/> million points. Take a smaller one.</summary>
    public static Refusal PhotoTooManyPixels(long megapixels) => new("photo", "photoTooManyPixels", megapixels);

    /// <summary>At most <paramref name="most"/> photos at once.</summary>
    public static Refusal PhotosTooMany(int most) => new("photo", "photosTooMany", most);

    /// <summary>Only a planner can do this.</summary>
    public static Refusal PlannerNeeded() => new("", "plannerNeeded");

    /// <summary>Name 1 to <paramref name="most"/> points.</summary>
    public static Refusal PointsBetween(int most) => new("points", "pointsBetween", most);

    /// <summary>Answer at least one of them.</summary>
    public static Refusal PointsNeeded(string field) => new(field, "pointsNeeded");

    /// <summary>That was decided already, by <paramref name="decidedBy"/>.</summary>
    public static Refusal ReadingDecided(string? decidedBy) => new("", "readingDecided", decidedBy);

    /// <summary>That reading is no longer there to decide.</summary>
    public static Refusal ReadingGone() => new("", "readingGone");

    /// <summary>
    /// There is a later reading already: <paramref name="hours"/> h on <paramref name="at"/>. Void it first, or enter the time
    /// right.
    /// </summary>
    public static Refusal ReadingsAfterSwap(MeterHours hours, DateTimeOffset at) => new("at", "readingsAfterSwap", hours, at);

    /// <summary>Give a reason.</summary>
    public static Refusal ReasonNeeded(string field) => new(field, "reasonNeeded");

    /// <summary>Readings go back to <paramref name="first"/>; it can't be later than that.</summary>
    public static Refusal RecordsBefore(DateOnly first) => new("commissionedOn", "recordsBefore", first);

    /// <summary>The defect was found at <paramref name="found"/> h; its repair cannot lie before.</summary>
    public static Refusal RepairBeforeDefect(MeterHours found) => new("hours", "repairBeforeDefect", found);

    /// <summary>The meter last showed <paramref name="last"/> h. Log its hours first.</summary>
    public static Refusal RepairFarAhead(MeterHours last) => new("hours", "repairFarAhead", last);

    /// <summary>Say who says so.</summary>
    public static Refusal SaidByNeeded() => new("saidBy", "saidByNeeded");

    /// <summary>No results are in yet.</summary>
    public static Refusal SampleNotReported() => new("", "sampleNotReported");

    /// <summary>It has not been sent.</summary>
    public static Refusal SampleNotSent() => new("", "sampleNotSent");

    /// <summary><paramref name="bottle"/> has been sent already.</summary>
    public static Refusal SampleNotTaken(string bottle) => new("", "sampleNotTaken", bottle);

    /// <summary><paramref name="signedBy"/> has signed its assessment; it can't be voided.</summary>
    public static Refusal SampleSigned(string? signedBy) => new("", "sampleSigned", signedBy);

    /// <summary><paramref name="downBy"/> did the first part. It takes somebody else.</summary>
    public static Refusal SecondPersonNeeded(string? downBy) => new("", "secondPersonNeeded", downBy);

    /// <summary>Say whether it is OK.</summary>
    public static Refusal SeenNeeded(string field) => new(field, "seenNeeded");

    /// <summary>The shift must end after it begins.</summary>
    public static Refusal ShiftBackwards() => new("shiftTo", "shiftBackwards");

    /// <summary>Name and code do not belong together, or the code is too old.</summary>
    public static Refusal ResetCodeWrong() => new("", "resetCodeWrong");

    /// <summary>That is not the code that the console shows.</summary>
    public static Refusal SetupCodeWrong() => new("setupCode", "setupCodeWrong");

    /// <summary>Name or password is wrong, or it was tried too often.</summary>
    public static Refusal SignIn() => new("", "signIn");

    /// <summary>There is a site <paramref name="name"/> already.</summary>
    public static Refusal SiteTaken(string name) => new("siteName", "siteTaken", name);

    /// <summary>Checks are made at station <paramref name="orphan"/>; it must stay.</summary>
    public static Refusal StationInUse(string orphan) => new("stations", "stationInUse", orphan);

    /// <summary>Not a station: <paramref name="line"/></summary>
    public static Refusal StationLine(string line) => new("stations", "stationLine", line);

    /// <summary>First: <paramref name="first"/></summary>
    public static Refusal StepBlocked(IReadOnlyList<string> first) => new("", "stepBlocked", first);

    /// <summary><paramref name="name"/> has only <paramref name="there"/>.</summary>
    public static Refusal StockShort(int there, string name) => new("quantity", "stockShort", there, name);

    /// <summary>A stop opens a stop defect.</summary>
    public static Refusal StopNeedsStop() => new("defect", "stopNeedsStop");

    /// <summary>A stop has no limit to put off.</summary>
    public static Refusal StopNotDeferred() => new("", "stopNotDeferred");

    /// <summary>A stop is not graded down by one person. Ask for it below.</summary>
    public static Refusal StopNotDownAlone() => new("grade", "stopNotDownAlone");

    /// <summary>Only a technician or planner can do this.</summary>
    public static Refusal TechnicianNeeded() => new("", "technicianNeeded");

    /// <summary>That token is revoked already.</summary>
    public static Refusal TokenGone() => new("", "tokenGone");

    /// <summary>Choose what it may do.</summary>
    public static Refusal TokenScope() => new("scopes", "tokenScope");

    /// <summary>
    /// <paramref name="shown"/> h is more than the clock allows since <paramref name="before"/> h on <paramref name="at"/>.
    /// </summary>
    public static Refusal TooFast(MeterHours shown, MeterHours before, DateTimeOffset at) => new("hours", "tooFast", shown, before, at);

    /// <summary>At most <paramref name="longest"/> characters.</summary>
    public static Refusal TooLong(string field, int longest) => new(field, "tooLong", longest);

    /// <summary>At most <paramref name="most"/> at once.</summary>
    public static Refusal TooManyChosen(int most) => new("", "tooManyChosen", most);

    /// <summary>At most <paramref name="most"/> rows at once.</summary>
    public static Refusal TooManyRows(int most) => new("file", "tooManyRows", most);

    /// <summary>This top-up was voided already.</summary>
    public static Refusal TopUpGone() => new("", "topUpGone");

    /// <summary>Tick that this holds, or say that it was taken in another position.</summary>
    public static Refusal TruthNeeded(string field) => new(field, "truthNeeded");

    /// <summary>Letters, digits, dashes and blanks, 16 at most, such as EX-04.</summary>
    public static Refusal UnitShape() => new("unit", "unitShape");

    /// <summary>There is a unit <paramref name="unit"/> already.</summary>
    public static Refusal UnitTaken(string unit) => new("unit", "unitTaken", unit);

    /// <summary>
    /// <paramref name="shown"/> h is far above the <paramref name="last"/> h expected now. Check the meter, or tick that it really
    /// shows this.
    /// </summary>
    public static Refusal UnusualHours(MeterHours shown, MeterHours last) => new("hours", "unusualHours", shown, last);

    /// <summary>Each line: name; litres; oil, coolant or fuel. A line can't be read, or a name is there twice.</summary>
    public static Refusal VesselLines() => new("vessels", "vesselLines");

    /// <summary><paramref name="closedBy"/> has closed this job card already.</summary>
    public static Refusal VisitClosed(string? closedBy) => new("", "visitClosed", closedBy);

    /// <summary>Tick at least one item.</summary>
    public static Refusal VisitEmpty() => new("items", "visitEmpty");

    /// <summary>This visit is not closed.</summary>
    public static Refusal VisitNotClosed() => new("", "visitNotClosed");

    /// <summary>This visit is no longer only planned.</summary>
    public static Refusal VisitNotPlanned() => new("", "visitNotPlanned");

    /// <summary>The last day lies before the first, or too far behind it.</summary>
    public static Refusal DaysTurned(string field) => new(field, "daysTurned");

    /// <summary>The pins of this plan can't be held together.</summary>
    public static Refusal WeekPinsClash() => new("", "weekPinsClash");

    /// <summary><paramref name="who"/> is not there on <paramref name="on"/>.</summary>
    public static Refusal WeekNotThere(string who, DateOnly on) => new("day", "weekNotThere", who, on);

    /// <summary><paramref name="who"/> is not qualified for it.</summary>
    public static Refusal WeekNotQualified(string who) => new("person", "weekNotQualified", who);

    /// <summary>What is pinned to that day takes <paramref name="lacks"/> minutes more than <paramref name="who"/> has.</summary>
    public static Refusal WeekNoTime(string who, DateOnly on, int lacks) => new("day", "weekNoTime", who, on, lacks);

    /// <summary><paramref name="unit"/> was changed since this plan was made.</summary>
    public static Refusal WeekStale(string unit) => new("", "weekStale", unit);

    /// <summary>There is no plan to keep: plan first.</summary>
    public static Refusal WeekNoDraft() => new("", "weekNoDraft");

    /// <summary>Nobody is there to plan for.</summary>
    public static Refusal WeekNobody() => new("", "weekNobody");

    /// <summary>A plan for what is only supposed is not kept.</summary>
    public static Refusal WeekSupposed() => new("", "weekSupposed");

    /// <summary>No plan was found in that time.</summary>
    public static Refusal WeekNotFound() => new("", "weekNotFound");

    /// <summary>Somebody plans already.</summary>
    public static Refusal WeekBusy() => new("", "weekBusy");

    /// <summary>There is a visit on <paramref name="on"/> already.</summary>
    public static Refusal VisitThatDay(DateOnly on) => new("on", "visitThatDay", on);

    /// <summary>Nothing is due on this walkaround.</summary>
    public static Refusal WalkEmpty() => new("", "walkEmpty");

    /// <summary>This walkaround was signed off by <paramref name="finishedBy"/> already.</summary>
    public static Refusal WalkFinished(string? finishedBy) => new("", "walkFinished", finishedBy);

    /// <summary>This walkaround is not open any more.</summary>
    public static Refusal WalkNotOpen() => new("", "walkNotOpen");

    /// <summary>A walkaround is open on this machine. Finish it or void it first.</summary>
    public static Refusal WalkOpen() => new("", "walkOpen");

    /// <summary>A wear part needs its limit too.</summary>
    public static Refusal WearNeedsLimit() => new("low", "wearNeedsLimit");

    /// <summary>A whole number from <paramref name="least"/> to <paramref name="most"/>.</summary>
    public static Refusal WholeBetween(string field, int least, int most) => new(field, "wholeBetween", least, most);

    /// <summary>Say it in a few words.</summary>
    public static Refusal WordsNeeded(string field) => new(field, "wordsNeeded");

    /// <summary>That work is voided already, or belongs to another machine.</summary>
    public static Refusal WorkGone() => new("", "workGone");

    /// <summary>There is no such state.</summary>
    public static Refusal NoSuchState(string? value1) => new("state", "noSuchState", value1);

    /// <summary>There is no such kind of place.</summary>
    public static Refusal NoSuchKind(string? value1) => new("kind", "noSuchKind", value1);

    /// <summary>There is no status <paramref name="value1"/>. Known: clear, coming, due, overdue.</summary>
    public static Refusal NoSuchStanding(string? value1) => new("standing", "noSuchStanding", value1);

    /// <summary>There is no such account, or it is your own.</summary>
    public static Refusal NoSuchPerson() => new("", "noSuchPerson");

    /// <summary>Choose a file first.</summary>
    public static Refusal FileNeeded() => new("file", "fileNeeded");

    /// <summary>Somebody of that full name is here already.</summary>
    public static Refusal FullNameTaken() => new("fullName", "fullNameTaken");

    /// <summary>That name is taken.</summary>
    public static Refusal UserNameTaken() => new("userName", "userNameTaken");

    /// <summary>Letters and digits only.</summary>
    public static Refusal UserNameShape() => new("userName", "userNameShape");

    /// <summary>That one is guessed first.</summary>
    public static Refusal PasswordCommon() => new("password", "passwordCommon");

    /// <summary>That is not your password.</summary>
    public static Refusal PasswordMismatch() => new("current", "passwordMismatch");

    /// <summary>At least 10 characters.</summary>
    public static Refusal PasswordShort() => new("password", "passwordShort");

    /// <summary>No machine has the unit <paramref name="unit"/>; those that are near are named where there are any.</summary>
    public static Refusal NoSuchUnitOrNear(string field, string? unit, IReadOnlyList<string> near) =>
        new(field, near.Count > 0 ? "noSuchUnitNear" : "noSuchUnit", unit, near);

    /// <summary><paramref name="typed"/> is no compartment of the machine; those that are near are named where there are any.</summary>
    public static Refusal NoSuchCompartmentHere(string? typed, IReadOnlyList<string> near) =>
        new("compartment", near.Count > 0 ? "noSuchCompartmentNear" : "noSuchCompartmentHere", typed, near);

    /// <summary>
    /// The hours do not fit the day: the meter stood at <paramref name="least"/> at least, and at most at <paramref name="most"/>.
    /// </summary>
    public static Refusal OutsideDay(MeterHours shown, DateOnly on, MeterHours least, MeterHours? most) =>
        new("hours", most is null ? "belowDay" : "outsideDay", shown, on, least, most);
}
