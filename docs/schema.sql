CREATE TABLE "ApiTokens" (
    "Id" INTEGER NOT NULL CONSTRAINT "PK_ApiTokens" PRIMARY KEY AUTOINCREMENT,
    "Name" TEXT NOT NULL,
    "Hash" TEXT NOT NULL,
    "Role" TEXT NOT NULL,
    "Scopes" TEXT NOT NULL,
    "MadeBy" TEXT NOT NULL,
    "MadeMs" INTEGER NOT NULL,
    "UsedMs" INTEGER NULL,
    "RevokedMs" INTEGER NULL,
    "ExpiresMs" INTEGER NOT NULL
);


CREATE TABLE "AspNetRoles" (
    "Id" TEXT NOT NULL CONSTRAINT "PK_AspNetRoles" PRIMARY KEY,
    "Name" TEXT NULL,
    "NormalizedName" TEXT NULL,
    "ConcurrencyStamp" TEXT NULL
);


CREATE TABLE "AspNetUsers" (
    "Id" TEXT NOT NULL CONSTRAINT "PK_AspNetUsers" PRIMARY KEY,
    "FullName" TEXT NOT NULL,
    "SiteId" INTEGER NULL,
    "Units" TEXT NOT NULL,
    "Language" TEXT NOT NULL,
    "UserName" TEXT NULL,
    "NormalizedUserName" TEXT NULL,
    "Email" TEXT NULL,
    "NormalizedEmail" TEXT NULL,
    "EmailConfirmed" INTEGER NOT NULL,
    "PasswordHash" TEXT NULL,
    "SecurityStamp" TEXT NULL,
    "ConcurrencyStamp" TEXT NULL,
    "PhoneNumber" TEXT NULL,
    "PhoneNumberConfirmed" INTEGER NOT NULL,
    "TwoFactorEnabled" INTEGER NOT NULL,
    "LockoutEnd" INTEGER NULL,
    "LockoutEnabled" INTEGER NOT NULL,
    "AccessFailedCount" INTEGER NOT NULL
);


CREATE TABLE "Audit" (
    "Id" INTEGER NOT NULL CONSTRAINT "PK_Audit" PRIMARY KEY AUTOINCREMENT,
    "AtMs" INTEGER NOT NULL,
    "Who" TEXT NOT NULL,
    "What" TEXT NOT NULL,
    "MachineId" INTEGER NULL,
    "Subject" TEXT NOT NULL,
    "Before" TEXT NULL,
    "After" TEXT NULL,
    "Chain" TEXT NOT NULL
);


CREATE TABLE "BackupPlans" (
    "Id" INTEGER NOT NULL CONSTRAINT "PK_BackupPlans" PRIMARY KEY AUTOINCREMENT,
    "Folder" TEXT NULL,
    "Second" TEXT NULL,
    "SecondMinutes" INTEGER NOT NULL
);


CREATE TABLE "EndedSessions" (
    "Id" TEXT NOT NULL CONSTRAINT "PK_EndedSessions" PRIMARY KEY,
    "AtMs" INTEGER NOT NULL
);


CREATE TABLE "Feeds" (
    "Id" INTEGER NOT NULL CONSTRAINT "PK_Feeds" PRIMARY KEY AUTOINCREMENT,
    "Name" TEXT NOT NULL,
    "Url" TEXT NOT NULL,
    "Token" TEXT NOT NULL,
    "OwnNetwork" INTEGER NOT NULL,
    "On" INTEGER NOT NULL,
    "Failures" INTEGER NOT NULL,
    "NextAskMs" INTEGER NULL,
    "LastFault" TEXT NOT NULL,
    "AnsweredMs" INTEGER NULL,
    "Version" INTEGER NOT NULL
);


CREATE TABLE "FleetLimits" (
    "Kind" INTEGER NOT NULL,
    "Family" TEXT NOT NULL,
    "Measurand" TEXT NOT NULL,
    "Watch" REAL NOT NULL,
    "Act" REAL NOT NULL,
    "Values" INTEGER NOT NULL,
    "ComputedMs" INTEGER NOT NULL,
    CONSTRAINT "PK_FleetLimits" PRIMARY KEY ("Kind", "Family", "Measurand")
);


CREATE TABLE "Fluids" (
    "Id" INTEGER NOT NULL CONSTRAINT "PK_Fluids" PRIMARY KEY AUTOINCREMENT,
    "Name" TEXT NOT NULL,
    "PerLitreCents" INTEGER NOT NULL
);


CREATE TABLE "ImportDrafts" (
    "Id" TEXT NOT NULL CONSTRAINT "PK_ImportDrafts" PRIMARY KEY,
    "By" TEXT NOT NULL,
    "AtMs" INTEGER NOT NULL,
    "FileName" TEXT NOT NULL,
    "Text" TEXT NOT NULL
);


CREATE TABLE "Installations" (
    "Id" INTEGER NOT NULL CONSTRAINT "PK_Installations" PRIMARY KEY AUTOINCREMENT,
    "PublicAddress" TEXT NOT NULL,
    "StopSpns" TEXT NOT NULL
);


CREATE TABLE "KeptPlan" (
    "Id" INTEGER NOT NULL CONSTRAINT "PK_KeptPlan" PRIMARY KEY AUTOINCREMENT,
    "From" TEXT NOT NULL,
    "Days" INTEGER NOT NULL,
    "AtMs" INTEGER NOT NULL,
    "By" TEXT NOT NULL,
    "Cost" REAL NOT NULL,
    "Bound" REAL NOT NULL,
    "Body" TEXT NOT NULL,
    "Version" INTEGER NOT NULL
);


CREATE TABLE "Labs" (
    "Id" INTEGER NOT NULL CONSTRAINT "PK_Labs" PRIMARY KEY AUTOINCREMENT,
    "Name" TEXT NOT NULL,
    "Url" TEXT NOT NULL,
    "Token" TEXT NOT NULL,
    "OwnNetwork" INTEGER NOT NULL,
    "Columns" TEXT NOT NULL,
    "Usual" INTEGER NOT NULL,
    "Cursor" INTEGER NOT NULL,
    "Failures" INTEGER NOT NULL,
    "NextAskMs" INTEGER NULL,
    "LastFault" TEXT NOT NULL,
    "Version" INTEGER NOT NULL
);


CREATE TABLE "MailServer" (
    "Id" INTEGER NOT NULL CONSTRAINT "PK_MailServer" PRIMARY KEY AUTOINCREMENT,
    "Host" TEXT NOT NULL,
    "Port" INTEGER NOT NULL,
    "Security" INTEGER NOT NULL,
    "User" TEXT NOT NULL,
    "Password" TEXT NOT NULL,
    "From" TEXT NOT NULL,
    "OwnNetwork" INTEGER NOT NULL,
    "On" INTEGER NOT NULL,
    "SinceMs" INTEGER NOT NULL,
    "Failures" INTEGER NOT NULL,
    "NextTryMs" INTEGER NULL,
    "LastFault" TEXT NOT NULL,
    "FailingSinceMs" INTEGER NULL,
    "Version" INTEGER NOT NULL
);


CREATE TABLE "NewOils" (
    "Id" INTEGER NOT NULL CONSTRAINT "PK_NewOils" PRIMARY KEY AUTOINCREMENT,
    "Fluid" TEXT NOT NULL,
    "Grade" TEXT NOT NULL,
    "Family" TEXT NOT NULL,
    "Viscosity" REAL NULL,
    "Tbn" REAL NULL,
    "Tan" REAL NULL,
    "Oxidation" REAL NULL,
    "Additives" TEXT NOT NULL,
    "Source" INTEGER NOT NULL,
    "By" TEXT NOT NULL,
    "AtMs" INTEGER NOT NULL,
    "Version" INTEGER NOT NULL
);


CREATE TABLE "Parts" (
    "Id" INTEGER NOT NULL CONSTRAINT "PK_Parts" PRIMARY KEY AUTOINCREMENT,
    "Number" TEXT NOT NULL,
    "Name" TEXT NOT NULL,
    "Make" TEXT NOT NULL,
    "Kind" TEXT NOT NULL,
    "LengthMm" REAL NULL,
    "OuterMm" REAL NULL,
    "SealMm" REAL NULL,
    "Thread" TEXT NOT NULL,
    "PriceCents" INTEGER NOT NULL,
    "Version" INTEGER NOT NULL
);


CREATE TABLE "Phrases" (
    "Language" TEXT NOT NULL,
    "Text" TEXT NOT NULL,
    "Said" TEXT NOT NULL,
    CONSTRAINT "PK_Phrases" PRIMARY KEY ("Language", "Text")
);


CREATE TABLE "Programs" (
    "Id" INTEGER NOT NULL CONSTRAINT "PK_Programs" PRIMARY KEY AUTOINCREMENT,
    "Code" TEXT NOT NULL,
    "Name" TEXT NOT NULL,
    "Kind" TEXT NOT NULL,
    "IntervalBasis" TEXT NOT NULL,
    "CreditPercent" INTEGER NOT NULL,
    "WindowPercent" INTEGER NOT NULL,
    "LeastWindowTenths" INTEGER NOT NULL,
    "ComingDays" INTEGER NOT NULL,
    "Starter" INTEGER NOT NULL,
    "Version" INTEGER NOT NULL
);


CREATE TABLE "Shop" (
    "Id" INTEGER NOT NULL CONSTRAINT "PK_Shop" PRIMARY KEY AUTOINCREMENT,
    "Currency" TEXT NOT NULL,
    "LabourPerHourCents" INTEGER NOT NULL,
    "CallOutCostCents" INTEGER NOT NULL,
    "HaulageCostCents" INTEGER NOT NULL,
    "LabFeeCents" INTEGER NOT NULL,
    "DowntimePerHourCents" INTEGER NOT NULL,
    "CareHours" INTEGER NOT NULL,
    "HorizonDays" INTEGER NOT NULL,
    "PailLitres" INTEGER NOT NULL,
    "OneAtATime" INTEGER NOT NULL,
    "DrainHot" INTEGER NOT NULL,
    "Vessels" TEXT NOT NULL,
    "PlanDays" INTEGER NOT NULL,
    "ReservePercent" INTEGER NOT NULL,
    "RoadPerMinuteCents" INTEGER NOT NULL,
    "MovingCostCents" INTEGER NOT NULL,
    "PartsDays" INTEGER NOT NULL,
    "Version" INTEGER NOT NULL
);


CREATE TABLE "Sites" (
    "Id" INTEGER NOT NULL CONSTRAINT "PK_Sites" PRIMARY KEY AUTOINCREMENT,
    "Name" TEXT NOT NULL,
    "TimeZone" TEXT NOT NULL,
    "WorkDays" INTEGER NOT NULL DEFAULT 126,
    "ShiftFrom" INTEGER NOT NULL DEFAULT 420,
    "ShiftTo" INTEGER NOT NULL DEFAULT 1020,
    "LowC" INTEGER NULL,
    "HighC" INTEGER NULL,
    "Contact" TEXT NOT NULL,
    "StopsEachWalk" INTEGER NOT NULL
);


CREATE TABLE "UnmatchedResults" (
    "Id" INTEGER NOT NULL CONSTRAINT "PK_UnmatchedResults" PRIMARY KEY AUTOINCREMENT,
    "LabId" INTEGER NULL,
    "ReceivedMs" INTEGER NOT NULL,
    "Bottle" TEXT NOT NULL,
    "Why" TEXT NOT NULL,
    "Result" TEXT NOT NULL,
    "Digest" TEXT NOT NULL,
    "SettledMs" INTEGER NULL,
    "SettledBy" TEXT NULL,
    "SampleId" INTEGER NULL
);


CREATE TABLE "WalkLists" (
    "Id" INTEGER NOT NULL CONSTRAINT "PK_WalkLists" PRIMARY KEY AUTOINCREMENT,
    "Code" TEXT NOT NULL,
    "Name" TEXT NOT NULL,
    "Kind" TEXT NOT NULL,
    "Starter" INTEGER NOT NULL,
    "Version" INTEGER NOT NULL
);


CREATE TABLE "Waste" (
    "Id" INTEGER NOT NULL CONSTRAINT "PK_Waste" PRIMARY KEY AUTOINCREMENT,
    "On" TEXT NOT NULL,
    "Stream" TEXT NOT NULL,
    "Amount" REAL NOT NULL,
    "Place" TEXT NOT NULL,
    "MachineId" INTEGER NULL,
    "VisitId" INTEGER NULL,
    "By" TEXT NOT NULL,
    "EnteredMs" INTEGER NOT NULL,
    "Batch" TEXT NOT NULL,
    "VoidedMs" INTEGER NULL,
    "VoidedBy" TEXT NULL
);


CREATE TABLE "WriteKeys" (
    "Key" TEXT NOT NULL CONSTRAINT "PK_WriteKeys" PRIMARY KEY,
    "AtMs" INTEGER NOT NULL,
    "Outcome" TEXT NOT NULL,
    "Print" TEXT NULL
);


CREATE TABLE "AspNetRoleClaims" (
    "Id" INTEGER NOT NULL CONSTRAINT "PK_AspNetRoleClaims" PRIMARY KEY AUTOINCREMENT,
    "RoleId" TEXT NOT NULL,
    "ClaimType" TEXT NULL,
    "ClaimValue" TEXT NULL,
    CONSTRAINT "FK_AspNetRoleClaims_AspNetRoles_RoleId" FOREIGN KEY ("RoleId") REFERENCES "AspNetRoles" ("Id") ON DELETE CASCADE
);


CREATE TABLE "AspNetUserClaims" (
    "Id" INTEGER NOT NULL CONSTRAINT "PK_AspNetUserClaims" PRIMARY KEY AUTOINCREMENT,
    "UserId" TEXT NOT NULL,
    "ClaimType" TEXT NULL,
    "ClaimValue" TEXT NULL,
    CONSTRAINT "FK_AspNetUserClaims_AspNetUsers_UserId" FOREIGN KEY ("UserId") REFERENCES "AspNetUsers" ("Id") ON DELETE CASCADE
);


CREATE TABLE "AspNetUserLogins" (
    "LoginProvider" TEXT NOT NULL,
    "ProviderKey" TEXT NOT NULL,
    "ProviderDisplayName" TEXT NULL,
    "UserId" TEXT NOT NULL,
    CONSTRAINT "PK_AspNetUserLogins" PRIMARY KEY ("LoginProvider", "ProviderKey"),
    CONSTRAINT "FK_AspNetUserLogins_AspNetUsers_UserId" FOREIGN KEY ("UserId") REFERENCES "AspNetUsers" ("Id") ON DELETE CASCADE
);


CREATE TABLE "AspNetUserRoles" (
    "UserId" TEXT NOT NULL,
    "RoleId" TEXT NOT NULL,
    CONSTRAINT "PK_AspNetUserRoles" PRIMARY KEY ("UserId", "RoleId"),
    CONSTRAINT "FK_AspNetUserRoles_AspNetRoles_RoleId" FOREIGN KEY ("RoleId") REFERENCES "AspNetRoles" ("Id") ON DELETE CASCADE,
    CONSTRAINT "FK_AspNetUserRoles_AspNetUsers_UserId" FOREIGN KEY ("UserId") REFERENCES "AspNetUsers" ("Id") ON DELETE CASCADE
);


CREATE TABLE "AspNetUserTokens" (
    "UserId" TEXT NOT NULL,
    "LoginProvider" TEXT NOT NULL,
    "Name" TEXT NOT NULL,
    "Value" TEXT NULL,
    CONSTRAINT "PK_AspNetUserTokens" PRIMARY KEY ("UserId", "LoginProvider", "Name"),
    CONSTRAINT "FK_AspNetUserTokens_AspNetUsers_UserId" FOREIGN KEY ("UserId") REFERENCES "AspNetUsers" ("Id") ON DELETE CASCADE
);


CREATE TABLE "Away" (
    "Id" INTEGER NOT NULL CONSTRAINT "PK_Away" PRIMARY KEY AUTOINCREMENT,
    "UserId" TEXT NOT NULL,
    "From" TEXT NOT NULL,
    "To" TEXT NOT NULL,
    "Why" TEXT NOT NULL,
    CONSTRAINT "FK_Away_AspNetUsers_UserId" FOREIGN KEY ("UserId") REFERENCES "AspNetUsers" ("Id") ON DELETE CASCADE
);


CREATE TABLE "CalendarLinks" (
    "UserId" TEXT NOT NULL CONSTRAINT "PK_CalendarLinks" PRIMARY KEY,
    "Hash" TEXT NOT NULL,
    "MadeMs" INTEGER NOT NULL,
    CONSTRAINT "FK_CalendarLinks_AspNetUsers_UserId" FOREIGN KEY ("UserId") REFERENCES "AspNetUsers" ("Id") ON DELETE CASCADE
);


CREATE TABLE "DraftPlans" (
    "UserId" TEXT NOT NULL CONSTRAINT "PK_DraftPlans" PRIMARY KEY,
    "AtMs" INTEGER NOT NULL,
    "Body" TEXT NOT NULL,
    "Version" INTEGER NOT NULL,
    CONSTRAINT "FK_DraftPlans_AspNetUsers_UserId" FOREIGN KEY ("UserId") REFERENCES "AspNetUsers" ("Id") ON DELETE CASCADE
);


CREATE TABLE "MailPeople" (
    "UserId" TEXT NOT NULL CONSTRAINT "PK_MailPeople" PRIMARY KEY,
    "Address" TEXT NOT NULL,
    "AllSites" INTEGER NOT NULL,
    "MorningAt" INTEGER NOT NULL,
    "MorningOn" TEXT NULL,
    "Stops" INTEGER NOT NULL,
    "Samples" INTEGER NOT NULL,
    "Limits" INTEGER NOT NULL,
    "Walks" INTEGER NOT NULL,
    "Stock" INTEGER NOT NULL,
    "Version" INTEGER NOT NULL,
    CONSTRAINT "FK_MailPeople_AspNetUsers_UserId" FOREIGN KEY ("UserId") REFERENCES "AspNetUsers" ("Id") ON DELETE CASCADE
);


CREATE TABLE "ResetCodes" (
    "UserId" TEXT NOT NULL CONSTRAINT "PK_ResetCodes" PRIMARY KEY,
    "Hash" TEXT NOT NULL,
    "UntilMs" INTEGER NOT NULL,
    "Wrong" INTEGER NOT NULL,
    CONSTRAINT "FK_ResetCodes_AspNetUsers_UserId" FOREIGN KEY ("UserId") REFERENCES "AspNetUsers" ("Id") ON DELETE CASCADE
);


CREATE TABLE "Consignments" (
    "Id" INTEGER NOT NULL CONSTRAINT "PK_Consignments" PRIMARY KEY AUTOINCREMENT,
    "LabId" INTEGER NOT NULL,
    "MadeMs" INTEGER NOT NULL,
    "By" TEXT NOT NULL,
    "State" INTEGER NOT NULL,
    "Attempts" INTEGER NOT NULL,
    "NextTryMs" INTEGER NULL,
    "LastFault" TEXT NOT NULL,
    "HandedMs" INTEGER NULL,
    CONSTRAINT "FK_Consignments_Labs_LabId" FOREIGN KEY ("LabId") REFERENCES "Labs" ("Id") ON DELETE CASCADE
);


CREATE TABLE "PartAlternates" (
    "PartId" INTEGER NOT NULL,
    "OtherId" INTEGER NOT NULL,
    "SaysWho" TEXT NOT NULL,
    "By" TEXT NOT NULL,
    "On" TEXT NOT NULL,
    CONSTRAINT "PK_PartAlternates" PRIMARY KEY ("PartId", "OtherId"),
    CONSTRAINT "FK_PartAlternates_Parts_OtherId" FOREIGN KEY ("OtherId") REFERENCES "Parts" ("Id") ON DELETE RESTRICT,
    CONSTRAINT "FK_PartAlternates_Parts_PartId" FOREIGN KEY ("PartId") REFERENCES "Parts" ("Id") ON DELETE CASCADE
);


CREATE TABLE "ProgramCompartments" (
    "Id" INTEGER NOT NULL CONSTRAINT "PK_ProgramCompartments" PRIMARY KEY AUTOINCREMENT,
    "ProgramId" INTEGER NOT NULL,
    "Position" INTEGER NOT NULL,
    "Code" TEXT NOT NULL,
    "Name" TEXT NOT NULL,
    "Kind" TEXT NOT NULL,
    "Needs" TEXT NOT NULL,
    "Stream" TEXT NOT NULL,
    "Traits" TEXT NOT NULL,
    "DrainMinutes" INTEGER NOT NULL,
    "SettleMinutes" INTEGER NOT NULL,
    "Fluids" TEXT NOT NULL,
    "DrainStepTenths" INTEGER NULL,
    "DrainCapTenths" INTEGER NULL,
    "DrainFluids" TEXT NOT NULL,
    CONSTRAINT "FK_ProgramCompartments_Programs_ProgramId" FOREIGN KEY ("ProgramId") REFERENCES "Programs" ("Id") ON DELETE CASCADE
);


CREATE TABLE "ProgramItems" (
    "Id" INTEGER NOT NULL CONSTRAINT "PK_ProgramItems" PRIMARY KEY AUTOINCREMENT,
    "ProgramId" INTEGER NOT NULL,
    "Position" INTEGER NOT NULL,
    "Code" TEXT NOT NULL,
    "Name" TEXT NOT NULL,
    "Compartment" TEXT NOT NULL,
    "EveryTenths" INTEGER NULL,
    "EveryMonths" INTEGER NULL,
    "EveryKm" INTEGER NULL,
    "FirstAtTenths" INTEGER NULL,
    "Once" INTEGER NOT NULL,
    "DutyFactor" INTEGER NOT NULL,
    "Strict" INTEGER NOT NULL,
    "IntervalBasis" TEXT NULL,
    "Needs" TEXT NOT NULL,
    "Points" INTEGER NOT NULL,
    "Qualified" INTEGER NOT NULL,
    "Work" TEXT NOT NULL DEFAULT 'Check',
    "Minutes" INTEGER NOT NULL DEFAULT 5,
    "Covers" TEXT NOT NULL,
    "Access" TEXT NOT NULL,
    "Caution" TEXT NOT NULL,
    "Off" INTEGER NOT NULL,
    CONSTRAINT "FK_ProgramItems_Programs_ProgramId" FOREIGN KEY ("ProgramId") REFERENCES "Programs" ("Id") ON DELETE CASCADE
);


CREATE TABLE "Crew" (
    "UserId" TEXT NOT NULL CONSTRAINT "PK_Crew" PRIMARY KEY,
    "SiteId" INTEGER NOT NULL,
    "Off" INTEGER NOT NULL,
    "Minutes" TEXT NOT NULL,
    "Subjects" TEXT NOT NULL,
    "Version" INTEGER NOT NULL,
    CONSTRAINT "FK_Crew_AspNetUsers_UserId" FOREIGN KEY ("UserId") REFERENCES "AspNetUsers" ("Id") ON DELETE CASCADE,
    CONSTRAINT "FK_Crew_Sites_SiteId" FOREIGN KEY ("SiteId") REFERENCES "Sites" ("Id") ON DELETE RESTRICT
);


CREATE TABLE "PartOrders" (
    "Id" INTEGER NOT NULL CONSTRAINT "PK_PartOrders" PRIMARY KEY AUTOINCREMENT,
    "PartId" INTEGER NOT NULL,
    "SiteId" INTEGER NOT NULL,
    "Quantity" INTEGER NOT NULL,
    "ExpectedOn" TEXT NOT NULL,
    "By" TEXT NOT NULL,
    "AtMs" INTEGER NOT NULL,
    CONSTRAINT "FK_PartOrders_Parts_PartId" FOREIGN KEY ("PartId") REFERENCES "Parts" ("Id") ON DELETE CASCADE,
    CONSTRAINT "FK_PartOrders_Sites_SiteId" FOREIGN KEY ("SiteId") REFERENCES "Sites" ("Id") ON DELETE CASCADE
);


CREATE TABLE "Roads" (
    "FromId" INTEGER NOT NULL,
    "ToId" INTEGER NOT NULL,
    "Minutes" INTEGER NOT NULL,
    CONSTRAINT "PK_Roads" PRIMARY KEY ("FromId", "ToId"),
    CONSTRAINT "FK_Roads_Sites_FromId" FOREIGN KEY ("FromId") REFERENCES "Sites" ("Id") ON DELETE CASCADE,
    CONSTRAINT "FK_Roads_Sites_ToId" FOREIGN KEY ("ToId") REFERENCES "Sites" ("Id") ON DELETE CASCADE
);


CREATE TABLE "Shelves" (
    "PartId" INTEGER NOT NULL,
    "SiteId" INTEGER NOT NULL,
    "Count" INTEGER NOT NULL,
    CONSTRAINT "PK_Shelves" PRIMARY KEY ("PartId", "SiteId"),
    CONSTRAINT "FK_Shelves_Parts_PartId" FOREIGN KEY ("PartId") REFERENCES "Parts" ("Id") ON DELETE CASCADE,
    CONSTRAINT "FK_Shelves_Sites_SiteId" FOREIGN KEY ("SiteId") REFERENCES "Sites" ("Id") ON DELETE RESTRICT
);


CREATE TABLE "SiteContacts" (
    "Id" INTEGER NOT NULL CONSTRAINT "PK_SiteContacts" PRIMARY KEY AUTOINCREMENT,
    "SiteId" INTEGER NOT NULL,
    "Turn" INTEGER NOT NULL,
    "UserId" TEXT NULL,
    "Name" TEXT NOT NULL,
    "Address" TEXT NOT NULL,
    "Language" TEXT NOT NULL,
    CONSTRAINT "FK_SiteContacts_AspNetUsers_UserId" FOREIGN KEY ("UserId") REFERENCES "AspNetUsers" ("Id"),
    CONSTRAINT "FK_SiteContacts_Sites_SiteId" FOREIGN KEY ("SiteId") REFERENCES "Sites" ("Id") ON DELETE CASCADE
);


CREATE TABLE "StockMoves" (
    "Id" INTEGER NOT NULL CONSTRAINT "PK_StockMoves" PRIMARY KEY AUTOINCREMENT,
    "PartId" INTEGER NOT NULL,
    "SiteId" INTEGER NOT NULL,
    "Quantity" INTEGER NOT NULL,
    "Kind" INTEGER NOT NULL,
    "AtMs" INTEGER NOT NULL,
    "By" TEXT NOT NULL,
    "Note" TEXT NOT NULL,
    "VisitId" INTEGER NULL,
    CONSTRAINT "FK_StockMoves_Parts_PartId" FOREIGN KEY ("PartId") REFERENCES "Parts" ("Id") ON DELETE CASCADE,
    CONSTRAINT "FK_StockMoves_Sites_SiteId" FOREIGN KEY ("SiteId") REFERENCES "Sites" ("Id") ON DELETE RESTRICT
);


CREATE TABLE "Machines" (
    "Id" INTEGER NOT NULL CONSTRAINT "PK_Machines" PRIMARY KEY AUTOINCREMENT,
    "Unit" TEXT NOT NULL,
    "Kind" TEXT NOT NULL,
    "Make" TEXT NOT NULL,
    "Model" TEXT NOT NULL,
    "Serial" TEXT NOT NULL,
    "Note" TEXT NOT NULL,
    "SiteId" INTEGER NOT NULL,
    "ProgramId" INTEGER NOT NULL,
    "WalkListId" INTEGER NULL,
    "History" TEXT NOT NULL,
    "CommissionedOn" TEXT NOT NULL,
    "CommissionedTenths" INTEGER NOT NULL,
    "Duty" TEXT NOT NULL,
    "PlannedHoursPerDay" REAL NOT NULL,
    "CommissionedKm" INTEGER NULL,
    "PlannedKmPerDay" REAL NOT NULL,
    "Options" TEXT NOT NULL,
    "Retired" INTEGER NOT NULL,
    "Version" INTEGER NOT NULL,
    "BleedMethod" TEXT NOT NULL,
    "BleedPoints" TEXT NOT NULL,
    "CrankSeconds" INTEGER NOT NULL,
    "RestSeconds" INTEGER NOT NULL,
    "CrankRepeats" INTEGER NOT NULL,
    CONSTRAINT "FK_Machines_Programs_ProgramId" FOREIGN KEY ("ProgramId") REFERENCES "Programs" ("Id") ON DELETE RESTRICT,
    CONSTRAINT "FK_Machines_Sites_SiteId" FOREIGN KEY ("SiteId") REFERENCES "Sites" ("Id") ON DELETE RESTRICT,
    CONSTRAINT "FK_Machines_WalkLists_WalkListId" FOREIGN KEY ("WalkListId") REFERENCES "WalkLists" ("Id") ON DELETE RESTRICT
);


CREATE TABLE "WalkListVersions" (
    "Id" INTEGER NOT NULL CONSTRAINT "PK_WalkListVersions" PRIMARY KEY AUTOINCREMENT,
    "ListId" INTEGER NOT NULL,
    "Version" INTEGER NOT NULL,
    "AtMs" INTEGER NOT NULL,
    "By" TEXT NOT NULL,
    "Body" TEXT NOT NULL,
    CONSTRAINT "FK_WalkListVersions_WalkLists_ListId" FOREIGN KEY ("ListId") REFERENCES "WalkLists" ("Id") ON DELETE RESTRICT
);


CREATE TABLE "Bottles" (
    "Id" INTEGER NOT NULL CONSTRAINT "PK_Bottles" PRIMARY KEY AUTOINCREMENT,
    "Code" TEXT NOT NULL,
    "MachineId" INTEGER NOT NULL,
    "Compartment" TEXT NOT NULL,
    "ItemCode" TEXT NOT NULL,
    "PreparedMs" INTEGER NOT NULL,
    "By" TEXT NOT NULL,
    "SampleId" INTEGER NULL,
    CONSTRAINT "FK_Bottles_Machines_MachineId" FOREIGN KEY ("MachineId") REFERENCES "Machines" ("Id") ON DELETE CASCADE
);


CREATE TABLE "Busy" (
    "Id" INTEGER NOT NULL CONSTRAINT "PK_Busy" PRIMARY KEY AUTOINCREMENT,
    "MachineId" INTEGER NOT NULL,
    "From" TEXT NOT NULL,
    "To" TEXT NOT NULL,
    "Why" TEXT NOT NULL,
    "By" TEXT NOT NULL,
    CONSTRAINT "FK_Busy_Machines_MachineId" FOREIGN KEY ("MachineId") REFERENCES "Machines" ("Id") ON DELETE CASCADE
);


CREATE TABLE "Completions" (
    "Id" INTEGER NOT NULL CONSTRAINT "PK_Completions" PRIMARY KEY AUTOINCREMENT,
    "MachineId" INTEGER NOT NULL,
    "ItemCode" TEXT NOT NULL,
    "Kind" INTEGER NOT NULL,
    "DoneOn" TEXT NOT NULL,
    "LifeTenths" INTEGER NOT NULL,
    "ShownTenths" INTEGER NOT NULL,
    "Note" TEXT NOT NULL,
    "By" TEXT NOT NULL,
    "SaidBy" TEXT NULL,
    "EnteredMs" INTEGER NOT NULL,
    "Batch" TEXT NOT NULL,
    "VoidedMs" INTEGER NULL,
    "VoidedBy" TEXT NULL,
    "VoidReason" TEXT NULL,
    CONSTRAINT "FK_Completions_Machines_MachineId" FOREIGN KEY ("MachineId") REFERENCES "Machines" ("Id") ON DELETE CASCADE
);


CREATE TABLE "CoolantTests" (
    "Id" INTEGER NOT NULL CONSTRAINT "PK_CoolantTests" PRIMARY KEY AUTOINCREMENT,
    "MachineId" INTEGER NOT NULL,
    "On" TEXT NOT NULL,
    "LifeTenths" INTEGER NOT NULL,
    "Laboratory" INTEGER NOT NULL,
    "SharePercent" REAL NULL,
    "FreezeC" REAL NULL,
    "Ph" REAL NULL,
    "Inhibitor" INTEGER NULL,
    "ChloridePpm" REAL NULL,
    "SulphatePpm" REAL NULL,
    "WantedPercent" REAL NOT NULL,
    "RefillPercent" REAL NOT NULL,
    "Note" TEXT NOT NULL,
    "By" TEXT NOT NULL,
    "AtMs" INTEGER NOT NULL,
    "Batch" TEXT NULL,
    "VoidedMs" INTEGER NULL,
    "VoidedBy" TEXT NULL,
    CONSTRAINT "FK_CoolantTests_Machines_MachineId" FOREIGN KEY ("MachineId") REFERENCES "Machines" ("Id") ON DELETE CASCADE
);


CREATE TABLE "Defects" (
    "Id" INTEGER NOT NULL CONSTRAINT "PK_Defects" PRIMARY KEY AUTOINCREMENT,
    "MachineId" INTEGER NOT NULL,
    "Place" TEXT NOT NULL,
    "PlaceName" TEXT NOT NULL,
    "Words" TEXT NOT NULL,
    "Grade" INTEGER NOT NULL,
    "FoundGrade" INTEGER NOT NULL,
    "Safety" INTEGER NOT NULL,
    "Part" INTEGER NOT NULL,
    "State" INTEGER NOT NULL,
    "By" TEXT NOT NULL,
    "AtMs" INTEGER NOT NULL,
    "On" TEXT NOT NULL,
    "LifeTenths" INTEGER NOT NULL,
    "LimitTenths" INTEGER NULL,
    "LimitOn" TEXT NULL,
    "ClockFromMs" INTEGER NOT NULL,
    "WalkId" INTEGER NULL,
    "CheckCode" TEXT NOT NULL,
    "Code" TEXT NOT NULL,
    "RepeatOf" INTEGER NULL,
    "LookAgainTenths" INTEGER NULL,
    "DownTo" INTEGER NULL,
    "DownBy" TEXT NULL,
    "DownReason" TEXT NULL,
    "RepairedBy" TEXT NULL,
    "RepairedMs" INTEGER NULL,
    "RepairedTenths" INTEGER NULL,
    "RepairWords" TEXT NULL,
    "RepairMinutes" INTEGER NULL,
    "RepairParts" TEXT NULL,
    "ReturnedBy" TEXT NULL,
    "ReturnedMs" INTEGER NULL,
    "ReturnWords" TEXT NULL,
    "VoidedBy" TEXT NULL,
    "VoidReason" TEXT NULL,
    "VoidAskedBy" TEXT NULL,
    "VoidAskReason" TEXT NULL,
    "ToldWhom" TEXT NULL,
    "ToldBy" TEXT NULL,
    "ToldMs" INTEGER NULL,
    "Version" INTEGER NOT NULL,
    CONSTRAINT "FK_Defects_Machines_MachineId" FOREIGN KEY ("MachineId") REFERENCES "Machines" ("Id") ON DELETE RESTRICT
);


CREATE TABLE "DrainChanges" (
    "Id" INTEGER NOT NULL CONSTRAINT "PK_DrainChanges" PRIMARY KEY AUTOINCREMENT,
    "MachineId" INTEGER NOT NULL,
    "Compartment" TEXT NOT NULL,
    "On" TEXT NOT NULL,
    "LifeTenths" INTEGER NOT NULL,
    "FromTenths" INTEGER NOT NULL,
    "ToTenths" INTEGER NOT NULL,
    "Reason" INTEGER NOT NULL,
    "SampleId" INTEGER NULL,
    "By" TEXT NOT NULL,
    "AtMs" INTEGER NOT NULL,
    CONSTRAINT "FK_DrainChanges_Machines_MachineId" FOREIGN KEY ("MachineId") REFERENCES "Machines" ("Id") ON DELETE CASCADE
);


CREATE TABLE "FeedMachines" (
    "Id" INTEGER NOT NULL CONSTRAINT "PK_FeedMachines" PRIMARY KEY AUTOINCREMENT,
    "FeedId" INTEGER NULL,
    "Equipment" TEXT NOT NULL,
    "Serial" TEXT NOT NULL,
    "MachineId" INTEGER NULL,
    "Ignored" INTEGER NOT NULL,
    "SeenMs" INTEGER NOT NULL,
    "LastFault" TEXT NOT NULL,
    "Hours" REAL NULL,
    "HoursMs" INTEGER NULL,
    "IdleHours" REAL NULL,
    "FuelPercent" REAL NULL,
    "FuelMs" INTEGER NULL,
    "DefPercent" REAL NULL,
    "DefMs" INTEGER NULL,
    "OffsetHours" REAL NULL,
    "Pairs" INTEGER NOT NULL,
    "Away" INTEGER NOT NULL,
    "AwayMs" INTEGER NULL,
    "AwayHours" REAL NOT NULL,
    "PairsFromMs" INTEGER NULL,
    "Version" INTEGER NOT NULL,
    CONSTRAINT "FK_FeedMachines_Feeds_FeedId" FOREIGN KEY ("FeedId") REFERENCES "Feeds" ("Id"),
    CONSTRAINT "FK_FeedMachines_Machines_MachineId" FOREIGN KEY ("MachineId") REFERENCES "Machines" ("Id")
);


CREATE TABLE "FilterLog" (
    "Id" INTEGER NOT NULL CONSTRAINT "PK_FilterLog" PRIMARY KEY AUTOINCREMENT,
    "MachineId" INTEGER NOT NULL,
    "Position" TEXT NOT NULL,
    "PositionName" TEXT NOT NULL,
    "State" INTEGER NOT NULL,
    "Part" TEXT NOT NULL,
    "Make" TEXT NOT NULL,
    "On" TEXT NOT NULL,
    "LifeTenths" INTEGER NOT NULL,
    "By" TEXT NOT NULL,
    "EnteredMs" INTEGER NOT NULL,
    "VisitId" INTEGER NULL,
    "Metal" INTEGER NULL,
    "Words" TEXT NOT NULL,
    "Batch" TEXT NOT NULL,
    "VoidedMs" INTEGER NULL,
    "VoidedBy" TEXT NULL,
    CONSTRAINT "FK_FilterLog_Machines_MachineId" FOREIGN KEY ("MachineId") REFERENCES "Machines" ("Id") ON DELETE CASCADE
);


CREATE TABLE "FilterPositions" (
    "Id" INTEGER NOT NULL CONSTRAINT "PK_FilterPositions" PRIMARY KEY AUTOINCREMENT,
    "MachineId" INTEGER NOT NULL,
    "Code" TEXT NOT NULL,
    "Name" TEXT NOT NULL,
    "ItemCode" TEXT NOT NULL,
    "PartId" INTEGER NULL,
    "LengthMm" REAL NULL,
    "OuterMm" REAL NULL,
    "SealMm" REAL NULL,
    "Thread" TEXT NOT NULL,
    "Prefill" TEXT NOT NULL,
    "Turn" TEXT NOT NULL,
    "Litres" REAL NOT NULL,
    CONSTRAINT "FK_FilterPositions_Machines_MachineId" FOREIGN KEY ("MachineId") REFERENCES "Machines" ("Id") ON DELETE CASCADE,
    CONSTRAINT "FK_FilterPositions_Parts_PartId" FOREIGN KEY ("PartId") REFERENCES "Parts" ("Id") ON DELETE RESTRICT
);


CREATE TABLE "MachineChecks" (
    "Id" INTEGER NOT NULL CONSTRAINT "PK_MachineChecks" PRIMARY KEY AUTOINCREMENT,
    "MachineId" INTEGER NOT NULL,
    "CheckCode" TEXT NOT NULL,
    "Name" TEXT NOT NULL,
    "Low" REAL NULL,
    "WatchBelow" REAL NULL,
    "High" REAL NULL,
    "New" REAL NULL,
    "NewAtTenths" INTEGER NULL,
    "MarkLitres" REAL NULL,
    "Method" TEXT NULL,
    "Note" TEXT NOT NULL,
    CONSTRAINT "FK_MachineChecks_Machines_MachineId" FOREIGN KEY ("MachineId") REFERENCES "Machines" ("Id") ON DELETE CASCADE
);


CREATE TABLE "MachineCodes" (
    "MachineId" INTEGER NOT NULL,
    "Code" TEXT NOT NULL,
    "Meaning" TEXT NOT NULL,
    "By" TEXT NOT NULL,
    "AtMs" INTEGER NOT NULL,
    CONSTRAINT "PK_MachineCodes" PRIMARY KEY ("MachineId", "Code"),
    CONSTRAINT "FK_MachineCodes_Machines_MachineId" FOREIGN KEY ("MachineId") REFERENCES "Machines" ("Id") ON DELETE CASCADE
);


CREATE TABLE "MachineCompartments" (
    "Id" INTEGER NOT NULL CONSTRAINT "PK_MachineCompartments" PRIMARY KEY AUTOINCREMENT,
    "MachineId" INTEGER NOT NULL,
    "Code" TEXT NOT NULL,
    "CapacityLitres" REAL NULL,
    "Fluid" TEXT NOT NULL,
    "FilterLitres" REAL NOT NULL,
    "DrainPoints" INTEGER NOT NULL DEFAULT 1,
    "PlugTorque" TEXT NOT NULL,
    "PlugSeal" TEXT NOT NULL,
    "Socket" TEXT NOT NULL,
    "PressureSeconds" REAL NULL,
    "DrainTenths" INTEGER NULL,
    "Hub" TEXT NOT NULL,
    CONSTRAINT "FK_MachineCompartments_Machines_MachineId" FOREIGN KEY ("MachineId") REFERENCES "Machines" ("Id") ON DELETE CASCADE
);


CREATE TABLE "Measures" (
    "Id" INTEGER NOT NULL CONSTRAINT "PK_Measures" PRIMARY KEY AUTOINCREMENT,
    "MachineId" INTEGER NOT NULL,
    "CheckCode" TEXT NOT NULL,
    "Value" REAL NOT NULL,
    "AtMs" INTEGER NOT NULL,
    "On" TEXT NOT NULL,
    "LifeTenths" INTEGER NOT NULL,
    "WalkId" INTEGER NULL,
    "VisitId" INTEGER NULL,
    "Used" INTEGER NOT NULL,
    CONSTRAINT "FK_Measures_Machines_MachineId" FOREIGN KEY ("MachineId") REFERENCES "Machines" ("Id") ON DELETE CASCADE
);


CREATE TABLE "MeterChanges" (
    "Id" INTEGER NOT NULL CONSTRAINT "PK_MeterChanges" PRIMARY KEY AUTOINCREMENT,
    "MachineId" INTEGER NOT NULL,
    "AtMs" INTEGER NOT NULL,
    "OldFinalTenths" INTEGER NOT NULL,
    "NewStartTenths" INTEGER NOT NULL,
    "Note" TEXT NOT NULL,
    "By" TEXT NOT NULL,
    "EnteredMs" INTEGER NOT NULL,
    "VoidedMs" INTEGER NULL,
    "VoidedBy" TEXT NULL,
    "VoidReason" TEXT NULL,
    CONSTRAINT "FK_MeterChanges_Machines_MachineId" FOREIGN KEY ("MachineId") REFERENCES "Machines" ("Id") ON DELETE CASCADE
);


CREATE TABLE "OdometerReadings" (
    "Id" INTEGER NOT NULL CONSTRAINT "PK_OdometerReadings" PRIMARY KEY AUTOINCREMENT,
    "MachineId" INTEGER NOT NULL,
    "AtMs" INTEGER NOT NULL,
    "KmTenths" INTEGER NOT NULL,
    "By" TEXT NOT NULL,
    "EnteredMs" INTEGER NOT NULL,
    "DecidedBy" TEXT NULL,
    "ToConfirm" INTEGER NOT NULL,
    "VoidedMs" INTEGER NULL,
    "VoidedBy" TEXT NULL,
    "VoidReason" TEXT NULL,
    CONSTRAINT "FK_OdometerReadings_Machines_MachineId" FOREIGN KEY ("MachineId") REFERENCES "Machines" ("Id") ON DELETE CASCADE
);


CREATE TABLE "OilLimits" (
    "Id" INTEGER NOT NULL CONSTRAINT "PK_OilLimits" PRIMARY KEY AUTOINCREMENT,
    "Kind" INTEGER NOT NULL,
    "MachineId" INTEGER NULL,
    "Compartment" TEXT NOT NULL,
    "Measurand" TEXT NOT NULL,
    "Watch" REAL NOT NULL,
    "Act" REAL NOT NULL,
    "Target" TEXT NOT NULL,
    CONSTRAINT "FK_OilLimits_Machines_MachineId" FOREIGN KEY ("MachineId") REFERENCES "Machines" ("Id")
);


CREATE TABLE "OnBoard" (
    "Id" INTEGER NOT NULL CONSTRAINT "PK_OnBoard" PRIMARY KEY AUTOINCREMENT,
    "MachineId" INTEGER NOT NULL,
    "Compartment" TEXT NOT NULL,
    "Fluid" TEXT NOT NULL,
    "Litres" REAL NOT NULL,
    "On" TEXT NOT NULL,
    "LifeTenths" INTEGER NOT NULL,
    "VisitId" INTEGER NULL,
    "Batch" TEXT NOT NULL,
    "VoidedMs" INTEGER NULL,
    CONSTRAINT "FK_OnBoard_Machines_MachineId" FOREIGN KEY ("MachineId") REFERENCES "Machines" ("Id") ON DELETE CASCADE
);


CREATE TABLE "Parked" (
    "Id" INTEGER NOT NULL CONSTRAINT "PK_Parked" PRIMARY KEY AUTOINCREMENT,
    "MachineId" INTEGER NOT NULL,
    "FromMs" INTEGER NOT NULL,
    "ToMs" INTEGER NULL,
    "Reason" TEXT NOT NULL,
    "By" TEXT NOT NULL,
    CONSTRAINT "FK_Parked_Machines_MachineId" FOREIGN KEY ("MachineId") REFERENCES "Machines" ("Id") ON DELETE CASCADE
);


CREATE TABLE "Parkings" (
    "Id" INTEGER NOT NULL CONSTRAINT "PK_Parkings" PRIMARY KEY AUTOINCREMENT,
    "MachineId" INTEGER NOT NULL,
    "On" TEXT NOT NULL,
    "AtMs" INTEGER NOT NULL,
    "By" TEXT NOT NULL,
    "Done" TEXT NOT NULL,
    "Note" TEXT NOT NULL,
    CONSTRAINT "FK_Parkings_Machines_MachineId" FOREIGN KEY ("MachineId") REFERENCES "Machines" ("Id") ON DELETE CASCADE
);


CREATE TABLE "Readings" (
    "Id" INTEGER NOT NULL CONSTRAINT "PK_Readings" PRIMARY KEY AUTOINCREMENT,
    "MachineId" INTEGER NOT NULL,
    "AtMs" INTEGER NOT NULL,
    "ShownTenths" INTEGER NOT NULL,
    "LifeTenths" INTEGER NOT NULL,
    "State" INTEGER NOT NULL,
    "Source" INTEGER NOT NULL,
    "By" TEXT NOT NULL,
    "EnteredMs" INTEGER NOT NULL,
    "DecidedBy" TEXT NULL,
    "Reason" TEXT NULL,
    CONSTRAINT "FK_Readings_Machines_MachineId" FOREIGN KEY ("MachineId") REFERENCES "Machines" ("Id") ON DELETE CASCADE
);


CREATE TABLE "Samples" (
    "Id" INTEGER NOT NULL CONSTRAINT "PK_Samples" PRIMARY KEY AUTOINCREMENT,
    "MachineId" INTEGER NOT NULL,
    "Compartment" TEXT NOT NULL,
    "ItemCode" TEXT NOT NULL,
    "Bottle" TEXT NOT NULL,
    "On" TEXT NOT NULL,
    "TakenMs" INTEGER NOT NULL,
    "LifeTenths" INTEGER NOT NULL,
    "OilTenths" INTEGER NULL,
    "AddedLitres" REAL NOT NULL,
    "Fluid" TEXT NOT NULL,
    "By" TEXT NOT NULL,
    "VisitId" INTEGER NULL,
    "Batch" TEXT NOT NULL,
    "Kind" INTEGER NOT NULL,
    "Grade" TEXT NOT NULL,
    "Family" TEXT NOT NULL,
    "Method" INTEGER NULL,
    "Engine" INTEGER NULL,
    "DrawnWrong" INTEGER NOT NULL,
    "Late" INTEGER NOT NULL,
    "Note" TEXT NOT NULL,
    "State" INTEGER NOT NULL,
    "LabId" INTEGER NULL,
    "ConsignmentId" INTEGER NULL,
    "SentMs" INTEGER NULL,
    "ReportedMs" INTEGER NULL,
    "Advised" INTEGER NULL,
    "SignedAs" INTEGER NULL,
    "SignedBy" TEXT NULL,
    "SignedMs" INTEGER NULL,
    "SignedWords" TEXT NOT NULL,
    "DefectId" INTEGER NULL,
    "Version" INTEGER NOT NULL,
    "VoidedMs" INTEGER NULL,
    "VoidedBy" TEXT NULL,
    "VoidReason" TEXT NULL,
    CONSTRAINT "FK_Samples_Machines_MachineId" FOREIGN KEY ("MachineId") REFERENCES "Machines" ("Id") ON DELETE CASCADE
);


CREATE TABLE "Statuses" (
    "MachineId" INTEGER NOT NULL CONSTRAINT "PK_Statuses" PRIMARY KEY,
    "ComputedMs" INTEGER NOT NULL,
    "LastMs" INTEGER NOT NULL,
    "LastTenths" INTEGER NOT NULL,
    "OffsetTenths" INTEGER NOT NULL,
    "HasReading" INTEGER NOT NULL,
    "HoursPerDay" REAL NOT NULL,
    "Sigma" REAL NOT NULL,
    "RateSigma" REAL NOT NULL,
    "Basis" INTEGER NOT NULL,
    "CoveredDays" REAL NOT NULL,
    "Stale" INTEGER NOT NULL,
    "Parked" INTEGER NOT NULL,
    "Unconfirmed" INTEGER NOT NULL,
    "Worst" INTEGER NOT NULL,
    "Overdue" INTEGER NOT NULL,
    "Due" INTEGER NOT NULL,
    "Coming" INTEGER NOT NULL,
    "NoRecord" INTEGER NOT NULL,
    "DailyOpen" INTEGER NOT NULL,
    "Urgency" REAL NOT NULL,
    "OutOfService" INTEGER NOT NULL,
    "Defects" INTEGER NOT NULL,
    "DefectLimitTenths" INTEGER NULL,
    "DefectLimitOn" TEXT NULL,
    "Untold" INTEGER NOT NULL,
    "CardOpen" INTEGER NOT NULL,
    "CardBy" TEXT NULL,
    "CardOff" TEXT NULL,
    "NotChecked" INTEGER NOT NULL,
    "WalkedOn" TEXT NULL,
    "WalkedMs" INTEGER NULL,
    "MissedWalks" INTEGER NOT NULL,
    "SamplesDue" INTEGER NOT NULL,
    "Points" BLOB NOT NULL,
    CONSTRAINT "FK_Statuses_Machines_MachineId" FOREIGN KEY ("MachineId") REFERENCES "Machines" ("Id") ON DELETE CASCADE
);


CREATE TABLE "StepMinutes" (
    "MachineId" INTEGER NOT NULL CONSTRAINT "PK_StepMinutes" PRIMARY KEY,
    "Steps" TEXT NOT NULL,
    CONSTRAINT "FK_StepMinutes_Machines_MachineId" FOREIGN KEY ("MachineId") REFERENCES "Machines" ("Id") ON DELETE CASCADE
);


CREATE TABLE "TopUps" (
    "Id" INTEGER NOT NULL CONSTRAINT "PK_TopUps" PRIMARY KEY AUTOINCREMENT,
    "MachineId" INTEGER NOT NULL,
    "Compartment" TEXT NOT NULL,
    "Litres" REAL NOT NULL,
    "AtMs" INTEGER NOT NULL,
    "LifeTenths" INTEGER NOT NULL,
    "WalkId" INTEGER NULL,
    "By" TEXT NOT NULL,
    "VoidedMs" INTEGER NULL,
    "VoidedBy" TEXT NULL,
    CONSTRAINT "FK_TopUps_Machines_MachineId" FOREIGN KEY ("MachineId") REFERENCES "Machines" ("Id") ON DELETE CASCADE
);


CREATE TABLE "Visits" (
    "Id" INTEGER NOT NULL CONSTRAINT "PK_Visits" PRIMARY KEY AUTOINCREMENT,
    "MachineId" INTEGER NOT NULL,
    "State" INTEGER NOT NULL,
    "On" TEXT NOT NULL,
    "NameHours" INTEGER NOT NULL,
    "PlannedBy" TEXT NOT NULL,
    "PlannedMs" INTEGER NOT NULL,
    "Note" TEXT NOT NULL,
    "HandsMinutes" INTEGER NOT NULL,
    "ElapsedMinutes" INTEGER NOT NULL,
    "SavedMinutes" INTEGER NOT NULL,
    "RealMinutes" INTEGER NULL,
    "PartsCostCents" INTEGER NOT NULL,
    "FluidsCostCents" INTEGER NOT NULL,
    "LabourCostCents" INTEGER NOT NULL,
    "CallOutCostCents" INTEGER NOT NULL,
    "WasteCostCents" INTEGER NOT NULL,
    "Hauled" INTEGER NOT NULL,
    "TwoPeople" INTEGER NOT NULL,
    "HaulageCostCents" INTEGER NOT NULL,
    "LabCostCents" INTEGER NOT NULL,
    "DowntimeCostCents" INTEGER NOT NULL,
    "RealPartsCostCents" INTEGER NULL,
    "RealFluidsCostCents" INTEGER NULL,
    "RealLabourCostCents" INTEGER NULL,
    "RealLabCostCents" INTEGER NULL,
    "RealDowntimeCostCents" INTEGER NULL,
    "QuoteCents" INTEGER NULL,
    "Card" TEXT NOT NULL,
    "ProgramVersion" INTEGER NOT NULL,
    "OpenedBy" TEXT NULL,
    "OpenedMs" INTEGER NULL,
    "CameWarm" INTEGER NOT NULL,
    "HeldBy" TEXT NULL,
    "HandedTo" TEXT NULL,
    "HandedWords" TEXT NOT NULL,
    "StandsOpen" TEXT NOT NULL,
    "LifeTenths" INTEGER NOT NULL,
    "ShownTenths" INTEGER NOT NULL,
    "ClosedBy" TEXT NULL,
    "ClosedMs" INTEGER NULL,
    "Batch" TEXT NULL,
    "VoidedBy" TEXT NULL,
    "VoidReason" TEXT NULL,
    "Version" INTEGER NOT NULL,
    CONSTRAINT "FK_Visits_Machines_MachineId" FOREIGN KEY ("MachineId") REFERENCES "Machines" ("Id") ON DELETE RESTRICT
);


CREATE TABLE "WorkRequests" (
    "Id" INTEGER NOT NULL CONSTRAINT "PK_WorkRequests" PRIMARY KEY AUTOINCREMENT,
    "MachineId" INTEGER NOT NULL,
    "ItemCode" TEXT NOT NULL,
    "Reason" INTEGER NOT NULL,
    "AtMs" INTEGER NOT NULL,
    "DueTenths" INTEGER NULL,
    "On" TEXT NOT NULL,
    "SampleId" INTEGER NULL,
    "AfterDefectId" INTEGER NULL,
    "VoidedMs" INTEGER NULL,
    CONSTRAINT "FK_WorkRequests_Machines_MachineId" FOREIGN KEY ("MachineId") REFERENCES "Machines" ("Id") ON DELETE CASCADE
);


CREATE TABLE "Walks" (
    "Id" INTEGER NOT NULL CONSTRAINT "PK_Walks" PRIMARY KEY AUTOINCREMENT,
    "MachineId" INTEGER NOT NULL,
    "VersionId" INTEGER NOT NULL,
    "Round" INTEGER NOT NULL,
    "State" INTEGER NOT NULL,
    "On" TEXT NOT NULL,
    "StartedMs" INTEGER NOT NULL,
    "FinishedMs" INTEGER NULL,
    "StartedBy" TEXT NOT NULL,
    "FinishedBy" TEXT NULL,
    "Late" INTEGER NOT NULL,
    "LifeTenths" INTEGER NOT NULL,
    "ShownTenths" INTEGER NOT NULL,
    "Weather" INTEGER NOT NULL,
    "Ground" INTEGER NOT NULL,
    "Checks" TEXT NOT NULL,
    "Due" INTEGER NOT NULL,
    "Answered" INTEGER NOT NULL,
    "Faults" INTEGER NOT NULL,
    "LeftOut" INTEGER NOT NULL,
    "ParkedMs" INTEGER NULL,
    "HonestSeconds" INTEGER NOT NULL,
    "NotChecked" INTEGER NOT NULL,
    "Answers" TEXT NOT NULL,
    "Note" TEXT NOT NULL,
    "Batch" TEXT NOT NULL,
    "RunStatus" INTEGER NULL,
    "UntilTenths" INTEGER NULL,
    "UntilOn" TEXT NULL,
    "VoidedMs" INTEGER NULL,
    "VoidedBy" TEXT NULL,
    "VoidReason" TEXT NULL,
    CONSTRAINT "FK_Walks_Machines_MachineId" FOREIGN KEY ("MachineId") REFERENCES "Machines" ("Id") ON DELETE RESTRICT,
    CONSTRAINT "FK_Walks_WalkListVersions_VersionId" FOREIGN KEY ("VersionId") REFERENCES "WalkListVersions" ("Id") ON DELETE RESTRICT
);


CREATE TABLE "DefectEvents" (
    "Id" INTEGER NOT NULL CONSTRAINT "PK_DefectEvents" PRIMARY KEY AUTOINCREMENT,
    "DefectId" INTEGER NOT NULL,
    "AtMs" INTEGER NOT NULL,
    "By" TEXT NOT NULL,
    "Act" INTEGER NOT NULL,
    "Words" TEXT NOT NULL,
    "From" INTEGER NULL,
    "To" INTEGER NULL,
    "LimitTenths" INTEGER NULL,
    "LimitOn" TEXT NULL,
    "WalkId" INTEGER NULL,
    "Answer" TEXT NOT NULL,
    CONSTRAINT "FK_DefectEvents_Defects_DefectId" FOREIGN KEY ("DefectId") REFERENCES "Defects" ("Id") ON DELETE CASCADE
);


CREATE TABLE "DefectPhotos" (
    "Id" INTEGER NOT NULL CONSTRAINT "PK_DefectPhotos" PRIMARY KEY AUTOINCREMENT,
    "DefectId" INTEGER NOT NULL,
    "AtMs" INTEGER NOT NULL,
    "By" TEXT NOT NULL,
    "Width" INTEGER NOT NULL,
    "Height" INTEGER NOT NULL,
    CONSTRAINT "FK_DefectPhotos_Defects_DefectId" FOREIGN KEY ("DefectId") REFERENCES "Defects" ("Id") ON DELETE CASCADE
);


CREATE TABLE "FeedCodes" (
    "Id" INTEGER NOT NULL CONSTRAINT "PK_FeedCodes" PRIMARY KEY AUTOINCREMENT,
    "MachineId" INTEGER NOT NULL,
    "Code" TEXT NOT NULL,
    "SinceMs" INTEGER NOT NULL,
    "LifeTenths" INTEGER NOT NULL,
    "Times" INTEGER NOT NULL,
    "GoneMs" INTEGER NULL,
    "GoneTenths" INTEGER NULL,
    "RepeatOf" INTEGER NULL,
    "DefectId" INTEGER NULL,
    "LookedBy" TEXT NULL,
    "LookedMs" INTEGER NULL,
    "LookedWords" TEXT NULL,
    "Version" INTEGER NOT NULL,
    CONSTRAINT "FK_FeedCodes_Defects_DefectId" FOREIGN KEY ("DefectId") REFERENCES "Defects" ("Id"),
    CONSTRAINT "FK_FeedCodes_Machines_MachineId" FOREIGN KEY ("MachineId") REFERENCES "Machines" ("Id") ON DELETE CASCADE
);


CREATE TABLE "Stoppages" (
    "Id" INTEGER NOT NULL CONSTRAINT "PK_Stoppages" PRIMARY KEY AUTOINCREMENT,
    "MachineId" INTEGER NOT NULL,
    "DefectId" INTEGER NOT NULL,
    "FromMs" INTEGER NOT NULL,
    "ToMs" INTEGER NULL,
    "Contact" TEXT NOT NULL,
    "SentMs" INTEGER NULL,
    "AcknowledgedBy" TEXT NULL,
    "AcknowledgedMs" INTEGER NULL,
    CONSTRAINT "FK_Stoppages_Defects_DefectId" FOREIGN KEY ("DefectId") REFERENCES "Defects" ("Id") ON DELETE CASCADE
);


CREATE TABLE "FeedPoints" (
    "Id" INTEGER NOT NULL CONSTRAINT "PK_FeedPoints" PRIMARY KEY AUTOINCREMENT,
    "FeedMachineId" INTEGER NOT NULL,
    "AtMs" INTEGER NOT NULL,
    "Hours" REAL NOT NULL,
    CONSTRAINT "FK_FeedPoints_FeedMachines_FeedMachineId" FOREIGN KEY ("FeedMachineId") REFERENCES "FeedMachines" ("Id") ON DELETE CASCADE
);


CREATE TABLE "FeedPairs" (
    "FeedMachineId" INTEGER NOT NULL,
    "ReadingId" INTEGER NOT NULL,
    "FeedHours" REAL NOT NULL,
    CONSTRAINT "PK_FeedPairs" PRIMARY KEY ("FeedMachineId", "ReadingId"),
    CONSTRAINT "FK_FeedPairs_FeedMachines_FeedMachineId" FOREIGN KEY ("FeedMachineId") REFERENCES "FeedMachines" ("Id") ON DELETE CASCADE,
    CONSTRAINT "FK_FeedPairs_Readings_ReadingId" FOREIGN KEY ("ReadingId") REFERENCES "Readings" ("Id") ON DELETE CASCADE
);


CREATE TABLE "Judgements" (
    "SampleId" INTEGER NOT NULL CONSTRAINT "PK_Judgements" PRIMARY KEY,
    "Values" TEXT NOT NULL,
    "WearCompares" INTEGER NOT NULL,
    "Whole" TEXT NOT NULL,
    CONSTRAINT "FK_Judgements_Samples_SampleId" FOREIGN KEY ("SampleId") REFERENCES "Samples" ("Id") ON DELETE CASCADE
);


CREATE TABLE "Reports" (
    "Id" INTEGER NOT NULL CONSTRAINT "PK_Reports" PRIMARY KEY AUTOINCREMENT,
    "SampleId" INTEGER NOT NULL,
    "ReceivedMs" INTEGER NOT NULL,
    "Source" INTEGER NOT NULL,
    "LabId" INTEGER NULL,
    "By" TEXT NOT NULL,
    "LabNumber" TEXT NOT NULL,
    "Figures" TEXT NOT NULL,
    "Iso" TEXT NOT NULL,
    "Comment" TEXT NOT NULL,
    "ReplacedMs" INTEGER NULL,
    CONSTRAINT "FK_Reports_Samples_SampleId" FOREIGN KEY ("SampleId") REFERENCES "Samples" ("Id") ON DELETE CASCADE
);


CREATE TABLE "PlannedJobs" (
    "Id" INTEGER NOT NULL CONSTRAINT "PK_PlannedJobs" PRIMARY KEY AUTOINCREMENT,
    "VisitId" INTEGER NOT NULL,
    "Part" INTEGER NOT NULL,
    "Helps" INTEGER NOT NULL,
    "UserId" TEXT NOT NULL,
    "On" TEXT NOT NULL,
    "Turn" INTEGER NOT NULL,
    "Minutes" INTEGER NOT NULL,
    "Pinned" INTEGER NOT NULL,
    "Round" TEXT NOT NULL,
    "Sequence" INTEGER NOT NULL,
    "ChangedMs" INTEGER NOT NULL,
    CONSTRAINT "FK_PlannedJobs_AspNetUsers_UserId" FOREIGN KEY ("UserId") REFERENCES "AspNetUsers" ("Id") ON DELETE CASCADE,
    CONSTRAINT "FK_PlannedJobs_Visits_VisitId" FOREIGN KEY ("VisitId") REFERENCES "Visits" ("Id") ON DELETE CASCADE
);


CREATE TABLE "StepPhotos" (
    "Id" INTEGER NOT NULL CONSTRAINT "PK_StepPhotos" PRIMARY KEY AUTOINCREMENT,
    "VisitId" INTEGER NOT NULL,
    "Code" TEXT NOT NULL,
    "By" TEXT NOT NULL,
    "AtMs" INTEGER NOT NULL,
    "Width" INTEGER NOT NULL,
    "Height" INTEGER NOT NULL,
    "Whole" BLOB NOT NULL,
    "Small" BLOB NOT NULL,
    CONSTRAINT "FK_StepPhotos_Visits_VisitId" FOREIGN KEY ("VisitId") REFERENCES "Visits" ("Id") ON DELETE CASCADE
);


CREATE TABLE "Steps" (
    "VisitId" INTEGER NOT NULL,
    "Code" TEXT NOT NULL,
    "Revision" INTEGER NOT NULL,
    "By" TEXT NOT NULL,
    "AtMs" INTEGER NOT NULL,
    "Answer" TEXT NOT NULL,
    "Paper" INTEGER NOT NULL,
    "DefectId" INTEGER NULL,
    CONSTRAINT "PK_Steps" PRIMARY KEY ("VisitId", "Code"),
    CONSTRAINT "FK_Steps_Visits_VisitId" FOREIGN KEY ("VisitId") REFERENCES "Visits" ("Id") ON DELETE CASCADE
);


CREATE TABLE "VanLines" (
    "VisitId" INTEGER NOT NULL,
    "Line" TEXT NOT NULL,
    "Words" TEXT NOT NULL,
    "Returns" INTEGER NOT NULL,
    "InBy" TEXT NOT NULL,
    "InMs" INTEGER NOT NULL,
    "OutBy" TEXT NULL,
    "OutMs" INTEGER NULL,
    CONSTRAINT "PK_VanLines" PRIMARY KEY ("VisitId", "Line"),
    CONSTRAINT "FK_VanLines_Visits_VisitId" FOREIGN KEY ("VisitId") REFERENCES "Visits" ("Id") ON DELETE CASCADE
);


CREATE TABLE "VisitDefects" (
    "VisitId" INTEGER NOT NULL,
    "DefectId" INTEGER NOT NULL,
    CONSTRAINT "PK_VisitDefects" PRIMARY KEY ("VisitId", "DefectId"),
    CONSTRAINT "FK_VisitDefects_Defects_DefectId" FOREIGN KEY ("DefectId") REFERENCES "Defects" ("Id") ON DELETE CASCADE,
    CONSTRAINT "FK_VisitDefects_Visits_VisitId" FOREIGN KEY ("VisitId") REFERENCES "Visits" ("Id") ON DELETE CASCADE
);


CREATE TABLE "VisitItems" (
    "VisitId" INTEGER NOT NULL,
    "ItemCode" TEXT NOT NULL,
    "State" INTEGER NOT NULL,
    "Reason" TEXT NULL,
    "ReasonWords" TEXT NULL,
    "Added" INTEGER NOT NULL,
    CONSTRAINT "PK_VisitItems" PRIMARY KEY ("VisitId", "ItemCode"),
    CONSTRAINT "FK_VisitItems_Visits_VisitId" FOREIGN KEY ("VisitId") REFERENCES "Visits" ("Id") ON DELETE CASCADE
);


CREATE TABLE "ChecksDone" (
    "WalkId" INTEGER NOT NULL,
    "CheckCode" TEXT NOT NULL,
    "MachineId" INTEGER NOT NULL,
    "LifeTenths" INTEGER NOT NULL,
    "Voided" INTEGER NOT NULL,
    CONSTRAINT "PK_ChecksDone" PRIMARY KEY ("WalkId", "CheckCode"),
    CONSTRAINT "FK_ChecksDone_Walks_WalkId" FOREIGN KEY ("WalkId") REFERENCES "Walks" ("Id") ON DELETE CASCADE
);


CREATE TABLE "LaterChecks" (
    "WalkId" INTEGER NOT NULL,
    "CheckCode" TEXT NOT NULL,
    "By" TEXT NOT NULL,
    "AtMs" INTEGER NOT NULL,
    "Words" TEXT NOT NULL,
    CONSTRAINT "PK_LaterChecks" PRIMARY KEY ("WalkId", "CheckCode"),
    CONSTRAINT "FK_LaterChecks_Walks_WalkId" FOREIGN KEY ("WalkId") REFERENCES "Walks" ("Id") ON DELETE CASCADE
);


CREATE TABLE "WalkAnswers" (
    "WalkId" INTEGER NOT NULL,
    "Code" TEXT NOT NULL,
    "Revision" INTEGER NOT NULL,
    "By" TEXT NOT NULL,
    "AtMs" INTEGER NOT NULL,
    "Answer" TEXT NOT NULL,
    CONSTRAINT "PK_WalkAnswers" PRIMARY KEY ("WalkId", "Code"),
    CONSTRAINT "FK_WalkAnswers_Walks_WalkId" FOREIGN KEY ("WalkId") REFERENCES "Walks" ("Id") ON DELETE CASCADE
);


CREATE TABLE "WalkPhotos" (
    "Id" INTEGER NOT NULL CONSTRAINT "PK_WalkPhotos" PRIMARY KEY AUTOINCREMENT,
    "WalkId" INTEGER NOT NULL,
    "CheckCode" TEXT NOT NULL,
    "By" TEXT NOT NULL,
    "AtMs" INTEGER NOT NULL,
    "Width" INTEGER NOT NULL,
    "Height" INTEGER NOT NULL,
    "Whole" BLOB NOT NULL,
    "Small" BLOB NOT NULL,
    CONSTRAINT "FK_WalkPhotos_Walks_WalkId" FOREIGN KEY ("WalkId") REFERENCES "Walks" ("Id") ON DELETE CASCADE
);


CREATE TABLE "PhotoBytes" (
    "PhotoId" INTEGER NOT NULL CONSTRAINT "PK_PhotoBytes" PRIMARY KEY,
    "Whole" BLOB NOT NULL,
    "Small" BLOB NOT NULL,
    CONSTRAINT "FK_PhotoBytes_DefectPhotos_PhotoId" FOREIGN KEY ("PhotoId") REFERENCES "DefectPhotos" ("Id") ON DELETE CASCADE
);


CREATE TABLE "Mail" (
    "Id" INTEGER NOT NULL CONSTRAINT "PK_Mail" PRIMARY KEY AUTOINCREMENT,
    "Kind" INTEGER NOT NULL,
    "State" INTEGER NOT NULL,
    "Address" TEXT NOT NULL,
    "Name" TEXT NOT NULL,
    "UserId" TEXT NULL,
    "StoppageId" INTEGER NULL,
    "Turn" INTEGER NULL,
    "MadeMs" INTEGER NOT NULL,
    "Subject" TEXT NOT NULL,
    "Text" TEXT NOT NULL,
    "Html" TEXT NOT NULL,
    "Attempts" INTEGER NOT NULL,
    "NextTryMs" INTEGER NULL,
    "LastFault" TEXT NOT NULL,
    "SentMs" INTEGER NULL,
    CONSTRAINT "FK_Mail_Stoppages_StoppageId" FOREIGN KEY ("StoppageId") REFERENCES "Stoppages" ("Id")
);


CREATE TABLE "MailTold" (
    "Who" TEXT NOT NULL,
    "What" TEXT NOT NULL,
    "MailId" INTEGER NOT NULL,
    CONSTRAINT "PK_MailTold" PRIMARY KEY ("Who", "What"),
    CONSTRAINT "FK_MailTold_Mail_MailId" FOREIGN KEY ("MailId") REFERENCES "Mail" ("Id") ON DELETE CASCADE
);


CREATE UNIQUE INDEX "IX_ApiTokens_Hash" ON "ApiTokens" ("Hash");


CREATE INDEX "IX_AspNetRoleClaims_RoleId" ON "AspNetRoleClaims" ("RoleId");


CREATE UNIQUE INDEX "RoleNameIndex" ON "AspNetRoles" ("NormalizedName");


CREATE INDEX "IX_AspNetUserClaims_UserId" ON "AspNetUserClaims" ("UserId");


CREATE INDEX "IX_AspNetUserLogins_UserId" ON "AspNetUserLogins" ("UserId");


CREATE INDEX "IX_AspNetUserRoles_RoleId" ON "AspNetUserRoles" ("RoleId");


CREATE INDEX "EmailIndex" ON "AspNetUsers" ("NormalizedEmail");


CREATE UNIQUE INDEX "UserNameIndex" ON "AspNetUsers" ("NormalizedUserName");


CREATE INDEX "IX_Audit_AtMs" ON "Audit" ("AtMs");


CREATE INDEX "IX_Audit_MachineId_AtMs" ON "Audit" ("MachineId", "AtMs");


CREATE INDEX "IX_Audit_What" ON "Audit" ("What");


CREATE INDEX "IX_Away_To" ON "Away" ("To");


CREATE INDEX "IX_Away_UserId" ON "Away" ("UserId");


CREATE UNIQUE INDEX "IX_Bottles_Code" ON "Bottles" ("Code");


CREATE INDEX "IX_Bottles_MachineId" ON "Bottles" ("MachineId");


CREATE INDEX "IX_Busy_MachineId" ON "Busy" ("MachineId");


CREATE INDEX "IX_Busy_To" ON "Busy" ("To");


CREATE UNIQUE INDEX "IX_CalendarLinks_Hash" ON "CalendarLinks" ("Hash");


CREATE INDEX "IX_ChecksDone_MachineId_CheckCode_LifeTenths" ON "ChecksDone" ("MachineId", "CheckCode", "LifeTenths");


CREATE INDEX "IX_Completions_Batch" ON "Completions" ("Batch");


CREATE INDEX "IX_Completions_MachineId_EnteredMs" ON "Completions" ("MachineId", "EnteredMs");


CREATE INDEX "IX_Completions_MachineId_ItemCode_LifeTenths_DoneOn" ON "Completions" ("MachineId", "ItemCode", "LifeTenths", "DoneOn") WHERE VoidedMs IS NULL;


CREATE INDEX "IX_Consignments_LabId" ON "Consignments" ("LabId");


CREATE INDEX "IX_Consignments_State" ON "Consignments" ("State");


CREATE INDEX "IX_CoolantTests_Batch" ON "CoolantTests" ("Batch");


CREATE INDEX "IX_CoolantTests_MachineId_LifeTenths" ON "CoolantTests" ("MachineId", "LifeTenths");


CREATE INDEX "IX_Crew_SiteId" ON "Crew" ("SiteId");


CREATE INDEX "IX_DefectEvents_DefectId_AtMs" ON "DefectEvents" ("DefectId", "AtMs");


CREATE INDEX "IX_DefectEvents_WalkId" ON "DefectEvents" ("WalkId") WHERE WalkId IS NOT NULL;


CREATE INDEX "IX_DefectPhotos_DefectId" ON "DefectPhotos" ("DefectId");


CREATE INDEX "IX_Defects_LimitOn" ON "Defects" ("LimitOn") WHERE LimitOn IS NOT NULL;


CREATE INDEX "IX_Defects_LimitTenths" ON "Defects" ("LimitTenths") WHERE LimitTenths IS NOT NULL;


CREATE INDEX "IX_Defects_MachineId_Place" ON "Defects" ("MachineId", "Place");


CREATE INDEX "IX_Defects_MachineId_State" ON "Defects" ("MachineId", "State");


CREATE INDEX "IX_Defects_On" ON "Defects" ("On");


CREATE INDEX "IX_Defects_RepairedMs" ON "Defects" ("RepairedMs");


CREATE INDEX "IX_Defects_State_Grade" ON "Defects" ("State", "Grade");


CREATE INDEX "IX_Defects_WalkId" ON "Defects" ("WalkId") WHERE WalkId IS NOT NULL;


CREATE INDEX "IX_DrainChanges_MachineId_Compartment" ON "DrainChanges" ("MachineId", "Compartment");


CREATE INDEX "IX_EndedSessions_AtMs" ON "EndedSessions" ("AtMs");


CREATE INDEX "IX_FeedCodes_DefectId_LookedMs" ON "FeedCodes" ("DefectId", "LookedMs");


CREATE INDEX "IX_FeedCodes_MachineId_Code" ON "FeedCodes" ("MachineId", "Code");


CREATE UNIQUE INDEX "IX_FeedMachines_FeedId_Equipment" ON "FeedMachines" ("FeedId", "Equipment");


CREATE UNIQUE INDEX "IX_FeedMachines_MachineId" ON "FeedMachines" ("MachineId");


CREATE INDEX "IX_FeedPairs_ReadingId" ON "FeedPairs" ("ReadingId");


CREATE UNIQUE INDEX "IX_FeedPoints_FeedMachineId_AtMs" ON "FeedPoints" ("FeedMachineId", "AtMs");


CREATE UNIQUE INDEX "IX_Feeds_Name" ON "Feeds" ("Name");


CREATE INDEX "IX_FilterLog_Batch" ON "FilterLog" ("Batch");


CREATE INDEX "IX_FilterLog_MachineId_Position_LifeTenths" ON "FilterLog" ("MachineId", "Position", "LifeTenths");


CREATE INDEX "IX_FilterLog_Part_State" ON "FilterLog" ("Part", "State");


CREATE INDEX "IX_FilterLog_VisitId" ON "FilterLog" ("VisitId") WHERE VisitId IS NOT NULL;


CREATE UNIQUE INDEX "IX_FilterPositions_MachineId_Code" ON "FilterPositions" ("MachineId", "Code");


CREATE INDEX "IX_FilterPositions_PartId" ON "FilterPositions" ("PartId");


CREATE UNIQUE INDEX "IX_Fluids_Name" ON "Fluids" ("Name");


CREATE UNIQUE INDEX "IX_Labs_Name" ON "Labs" ("Name");


CREATE UNIQUE INDEX "IX_MachineChecks_MachineId_CheckCode" ON "MachineChecks" ("MachineId", "CheckCode");


CREATE UNIQUE INDEX "IX_MachineCompartments_MachineId_Code" ON "MachineCompartments" ("MachineId", "Code");


CREATE INDEX "IX_Machines_Listed" ON "Machines" ("Id", "Retired", "SiteId", "Kind");


CREATE INDEX "IX_Machines_ProgramId" ON "Machines" ("ProgramId");


CREATE INDEX "IX_Machines_SiteId" ON "Machines" ("SiteId");


CREATE UNIQUE INDEX "IX_Machines_Unit" ON "Machines" ("Unit");


CREATE INDEX "IX_Machines_WalkListId" ON "Machines" ("WalkListId");


CREATE INDEX "IX_Mail_State_NextTryMs" ON "Mail" ("State", "NextTryMs");


CREATE INDEX "IX_Mail_StoppageId" ON "Mail" ("StoppageId");


CREATE INDEX "IX_MailTold_MailId" ON "MailTold" ("MailId");


CREATE INDEX "IX_MailTold_What" ON "MailTold" ("What");


CREATE INDEX "IX_Measures_MachineId_CheckCode_AtMs" ON "Measures" ("MachineId", "CheckCode", "AtMs");


CREATE INDEX "IX_Measures_VisitId" ON "Measures" ("VisitId") WHERE VisitId IS NOT NULL;


CREATE INDEX "IX_Measures_WalkId" ON "Measures" ("WalkId");


CREATE INDEX "IX_MeterChanges_MachineId_AtMs" ON "MeterChanges" ("MachineId", "AtMs");


CREATE UNIQUE INDEX "IX_NewOils_Fluid" ON "NewOils" ("Fluid");


CREATE INDEX "IX_OdometerReadings_MachineId_AtMs" ON "OdometerReadings" ("MachineId", "AtMs");


CREATE UNIQUE INDEX "IX_OilLimits_MachineId_Compartment_Kind_Measurand" ON "OilLimits" ("MachineId", "Compartment", "Kind", "Measurand");


CREATE INDEX "IX_OnBoard_MachineId_Compartment_LifeTenths" ON "OnBoard" ("MachineId", "Compartment", "LifeTenths");


CREATE INDEX "IX_Parked_MachineId_FromMs" ON "Parked" ("MachineId", "FromMs");


CREATE INDEX "IX_Parkings_MachineId_AtMs" ON "Parkings" ("MachineId", "AtMs");


CREATE INDEX "IX_Parkings_On" ON "Parkings" ("On");


CREATE INDEX "IX_PartAlternates_OtherId" ON "PartAlternates" ("OtherId");


CREATE INDEX "IX_PartOrders_PartId" ON "PartOrders" ("PartId");


CREATE INDEX "IX_PartOrders_SiteId" ON "PartOrders" ("SiteId");


CREATE UNIQUE INDEX "IX_Parts_Number" ON "Parts" ("Number");


CREATE INDEX "IX_PlannedJobs_On" ON "PlannedJobs" ("On");


CREATE INDEX "IX_PlannedJobs_UserId" ON "PlannedJobs" ("UserId");


CREATE UNIQUE INDEX "IX_PlannedJobs_VisitId_Part_Helps" ON "PlannedJobs" ("VisitId", "Part", "Helps");


CREATE UNIQUE INDEX "IX_ProgramCompartments_ProgramId_Code" ON "ProgramCompartments" ("ProgramId", "Code");


CREATE UNIQUE INDEX "IX_ProgramItems_ProgramId_Code" ON "ProgramItems" ("ProgramId", "Code");


CREATE UNIQUE INDEX "IX_Programs_Code" ON "Programs" ("Code");


CREATE INDEX "IX_Readings_MachineId_State_AtMs_LifeTenths" ON "Readings" ("MachineId", "State", "AtMs", "LifeTenths");


CREATE INDEX "IX_Reports_SampleId" ON "Reports" ("SampleId");


CREATE INDEX "IX_Roads_ToId" ON "Roads" ("ToId");


CREATE UNIQUE INDEX "IX_Samples_Bottle" ON "Samples" ("Bottle") WHERE VoidedMs IS NULL;


CREATE INDEX "IX_Samples_ConsignmentId" ON "Samples" ("ConsignmentId") WHERE ConsignmentId IS NOT NULL;


CREATE INDEX "IX_Samples_Judged" ON "Samples" ("Kind", "On", "Family", "Compartment", "MachineId", "LifeTenths") WHERE VoidedMs IS NULL AND Advised IS NOT NULL AND NOT DrawnWrong;


CREATE INDEX "IX_Samples_MachineId_Compartment_LifeTenths" ON "Samples" ("MachineId", "Compartment", "LifeTenths");


CREATE INDEX "IX_Samples_State_TakenMs" ON "Samples" ("State", "TakenMs");


CREATE INDEX "IX_Samples_VisitId" ON "Samples" ("VisitId") WHERE VisitId IS NOT NULL;


CREATE INDEX "IX_Shelves_SiteId" ON "Shelves" ("SiteId");


CREATE INDEX "IX_SiteContacts_SiteId_Turn" ON "SiteContacts" ("SiteId", "Turn");


CREATE INDEX "IX_SiteContacts_UserId" ON "SiteContacts" ("UserId");


CREATE UNIQUE INDEX "IX_Sites_Name" ON "Sites" ("Name");


CREATE INDEX "IX_Statuses_Counted" ON "Statuses" ("OutOfService" DESC, "Worst" DESC, "Urgency", "MachineId", "ComputedMs", "CardOpen", "NotChecked", "Unconfirmed", "Stale", "Parked", "MissedWalks", "WalkedOn", "Untold");


CREATE INDEX "IX_Statuses_Worst_Urgency" ON "Statuses" ("Worst", "Urgency");


CREATE INDEX "IX_StepPhotos_VisitId_Code" ON "StepPhotos" ("VisitId", "Code");


CREATE INDEX "IX_StockMoves_PartId" ON "StockMoves" ("PartId");


CREATE INDEX "IX_StockMoves_PartId_SiteId_Quantity" ON "StockMoves" ("PartId", "SiteId", "Quantity");


CREATE INDEX "IX_StockMoves_SiteId" ON "StockMoves" ("SiteId");


CREATE INDEX "IX_StockMoves_VisitId" ON "StockMoves" ("VisitId") WHERE VisitId IS NOT NULL;


CREATE INDEX "IX_Stoppages_DefectId" ON "Stoppages" ("DefectId");


CREATE INDEX "IX_Stoppages_MachineId_FromMs" ON "Stoppages" ("MachineId", "FromMs");


CREATE INDEX "IX_TopUps_MachineId_Compartment_LifeTenths" ON "TopUps" ("MachineId", "Compartment", "LifeTenths");


CREATE INDEX "IX_TopUps_WalkId" ON "TopUps" ("WalkId");


CREATE UNIQUE INDEX "IX_UnmatchedResults_Digest" ON "UnmatchedResults" ("Digest");


CREATE INDEX "IX_VisitDefects_DefectId" ON "VisitDefects" ("DefectId");


CREATE INDEX "IX_Visits_MachineId_On" ON "Visits" ("MachineId", "On");


CREATE INDEX "IX_Visits_State_On" ON "Visits" ("State", "On");


CREATE UNIQUE INDEX "IX_WalkLists_Code" ON "WalkLists" ("Code");


CREATE UNIQUE INDEX "IX_WalkListVersions_ListId_Version" ON "WalkListVersions" ("ListId", "Version");


CREATE INDEX "IX_WalkPhotos_WalkId" ON "WalkPhotos" ("WalkId");


CREATE INDEX "IX_Walks_FinishedBy_On" ON "Walks" ("FinishedBy", "On");


CREATE INDEX "IX_Walks_MachineId_On" ON "Walks" ("MachineId", "On");


CREATE INDEX "IX_Walks_NotChecked" ON "Walks" ("MachineId") WHERE NotChecked > 0;


CREATE INDEX "IX_Walks_On" ON "Walks" ("On");


CREATE UNIQUE INDEX "IX_Walks_Open" ON "Walks" ("MachineId", "Round") WHERE State = 0;


CREATE INDEX "IX_Walks_VersionId" ON "Walks" ("VersionId");


CREATE INDEX "IX_Waste_On" ON "Waste" ("On");


CREATE INDEX "IX_Waste_VisitId" ON "Waste" ("VisitId") WHERE VisitId IS NOT NULL;


CREATE INDEX "IX_WorkRequests_AfterDefectId" ON "WorkRequests" ("AfterDefectId");


CREATE INDEX "IX_WorkRequests_MachineId_ItemCode" ON "WorkRequests" ("MachineId", "ItemCode");


CREATE TRIGGER "ShelfTakesMove" AFTER INSERT ON "StockMoves" BEGIN
INSERT INTO "Shelves" ("PartId", "SiteId", "Count") VALUES (NEW."PartId", NEW."SiteId", NEW."Quantity")
ON CONFLICT ("PartId", "SiteId") DO UPDATE SET "Count" = "Count" + excluded."Count";
END;
CREATE TRIGGER "ShelfLosesMove" AFTER DELETE ON "StockMoves" BEGIN
UPDATE "Shelves" SET "Count" = "Count" - OLD."Quantity" WHERE "PartId" = OLD."PartId" AND "SiteId" = OLD."SiteId";
END;
CREATE TRIGGER "ShelfChangesMove" AFTER UPDATE OF "PartId", "SiteId", "Quantity" ON "StockMoves" BEGIN
UPDATE "Shelves" SET "Count" = "Count" - OLD."Quantity" WHERE "PartId" = OLD."PartId" AND "SiteId" = OLD."SiteId";
INSERT INTO "Shelves" ("PartId", "SiteId", "Count") VALUES (NEW."PartId", NEW."SiteId", NEW."Quantity")
ON CONFLICT ("PartId", "SiteId") DO UPDATE SET "Count" = "Count" + excluded."Count";
END;
