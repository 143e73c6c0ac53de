using Microsoft.EntityFrameworkCore;
using Nippers.App.Parts;
using Nippers.App.Units;
using Nippers.Data;
using Nippers.Data.Parts;
using Nippers.Data.Visits;
using Nippers.Formats;
using Nippers.Formats.Csv;

namespace Nippers.App.Exchange;

/// <summary>Visits, filter log, shelves and waste as CSV and for the API, each streamed.</summary>
public sealed class ExportVisits(NippersDb db)
{
    /// <summary>What there is to export, by name.</summary>
    public static IReadOnlyList<string> Names { get; } = ["visits", "filters", "stock", "waste", "odometer"];

    /// <summary>Writes one of <see cref="Names"/>; false when there is none of that name.</summary>
    public async Task<bool> Csv(string what, TextWriter to, string? unit, CancellationToken ct)
    {
        switch (what)
        {
            case "visits":
                await RecordCsv.Write(to, Visits(unit), ct);
                return true;
            case "filters":
                await RecordCsv.Write(to, Filters(unit), ct);
                return true;
            case "stock":
                await RecordCsv.Write(to, Stock(), ct);
                return true;
            case "waste":
                await RecordCsv.Write(to, Waste(), ct);
                return true;
            case "odometer":
                await RecordCsv.Write(to, Odometers(unit), ct);
                return true;
            default:
                return false;
        }
    }

    public IAsyncEnumerable<VisitCsvRow> Visits(string? unit) =>
        db
            .Visits.AsNoTracking()
            .Where(x => unit == null || x.Machine.Unit == unit)
            .OrderBy(x => x.Machine.Unit)
            .ThenBy(x => x.On)
            .ThenBy(x => x.Id)
            .Select(x => new
            {
                x.Machine.Unit,
                Visit = x,
                Items = x.Items.Count,
                Left = x.Items.Count(i => i.State == VisitItemState.Left),
            })
            .AsAsyncEnumerable()
            .Select(x => new VisitCsvRow(
                x.Unit,
                x.Visit.Id,
                Iso.Day(x.Visit.On),
                FleetMapping.Word(x.Visit.State),
                x.Visit.NameHours,
                x.Visit.OpenedAt is null ? null : x.Visit.ShownHours.Value,
                x.Items,
                x.Left,
                x.Visit.ElapsedMinutes,
                x.Visit.RealMinutes,
                x.Visit.CallOutCost.Value,
                x.Visit.RealPartsCost?.Value,
                x.Visit.RealFluidsCost?.Value,
                x.Visit.RealLabourCost?.Value,
                x.Visit.Quote?.Value,
                x.Visit.ClosedBy ?? "",
                x.Visit.RealLabCost?.Value,
                x.Visit.HaulageCost.Value,
                x.Visit.RealDowntimeCost?.Value
            ));

    public IAsyncEnumerable<FilterCsvRow> Filters(string? unit) =>
        db
            .FilterLog.AsNoTracking()
            .WithVoided()
            .Join(db.Machines.Where(m => unit == null || m.Unit == unit), x => x.MachineId, m => m.Id, (x, m) => new { m.Unit, Row = x })
            .OrderBy(x => x.Unit)
            .ThenBy(x => x.Row.LifeHours)
            .ThenBy(x => x.Row.Id)
            .AsAsyncEnumerable()
            .Select(x => new FilterCsvRow(
                x.Unit,
                x.Row.PositionName,
                FleetMapping.Word(x.Row.State),
                x.Row.Part,
                x.Row.Make,
                Iso.Day(x.Row.On),
                x.Row.LifeHours.Value,
                x.Row.Metal is { } metal ? FleetMapping.Word(metal) : "",
                x.Row.Words,
                x.Row.By,
                x.Row.VoidedAt is not null
            ));

    public IAsyncEnumerable<OdometerCsvRow> Odometers(string? unit) =>
        db
            .OdometerReadings.AsNoTracking()
            .Join(db.Machines.Where(m => unit == null || m.Unit == unit), x => x.MachineId, m => m.Id, (x, m) => new { m.Unit, Row = x })
            .OrderBy(x => x.Unit)
            .ThenBy(x => x.Row.At)
            .AsAsyncEnumerable()
            .Select(x => new OdometerCsvRow(x.Unit, Iso.Instant(x.Row.At), x.Row.KmTenths / 10.0));

    public IAsyncEnumerable<StockCsvRow> Stock() =>
        db
            .Shelves.Join(
                db.Parts,
                x => x.PartId,
                p => p.Id,
                (x, p) =>
                    new
                    {
                        x.SiteId,
                        Pieces = x.Count,
                        Part = p,
                    }
            )
            .Join(
                db.Sites,
                x => x.SiteId,
                s => s.Id,
                (x, s) =>
                    new
                    {
                        x.Pieces,
                        x.Part,
                        Site = s.Name,
                    }
            )
            .OrderBy(x => x.Part.Number)
            .ThenBy(x => x.Site)
            .AsAsyncEnumerable()
            .Select(x => Row(x.Part, x.Site, x.Pieces));

    public IAsyncEnumerable<WasteCsvRow> Waste() =>
        db
            .Waste.AsNoTracking()
            .OrderBy(x => x.On)
            .ThenBy(x => x.Id)
            .Select(x => new { Row = x, Unit = db.Machines.Where(m => m.Id == x.MachineId).Select(m => m.Unit).FirstOrDefault() })
            .AsAsyncEnumerable()
            .Select(x => Row(x.Row, x.Unit ?? ""));

    private static WasteCsvRow Row(WasteRow row, string unit)
    {
        double? litres = row.Stream == PartCatalog.FilterStream ? null : row.Amount;
        return new(
            Iso.Day(row.On),
            row.Stream,
            litres,
            litres is { } kept ? Quantities.Gallons(kept) : null,
            litres is null ? row.Amount : null,
            row.Place,
            unit,
            row.By
        );
    }

    private static StockCsvRow Row(PartRow part, string site, int pieces) =>
        new(part.Number, part.Name, part.Make, site, pieces, part.Price.Value);
}
