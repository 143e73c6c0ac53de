using System.Globalization;
using Microsoft.AspNetCore.Mvc;
using Nippers.App.Units;
using Nippers.App.Visits;
using Nippers.Core.Numbers;
using Nippers.Views.Text;
using Nippers.Web.Hosting;

namespace Nippers.Web.Pages.Settings;

/// <summary>The workshop's form as it is posted.</summary>
public sealed class ShopPost
{
    public int Version { get; set; }
    public string? Currency { get; set; }
    public string? Labour { get; set; }
    public string? CallOut { get; set; }
    public string? Haulage { get; set; }
    public string? LabFee { get; set; }
    public string? Downtime { get; set; }
    public string? CareHours { get; set; }
    public string? HorizonDays { get; set; }
    public string? PailLitres { get; set; }
    public string? PlanDays { get; set; }
    public string? ReservePercent { get; set; }
    public string? RoadPerMinute { get; set; }
    public string? MovingCost { get; set; }
    public string? PartsDays { get; set; }
    public bool OneAtATime { get; set; }
    public bool DrainHot { get; set; }
    public string? Vessels { get; set; }
    public string? Fluids { get; set; }
}

/// <summary>The workshop: money, time, vessels, and what fluids cost.</summary>
public sealed class ShopModel(WorkshopService book, Words words) : NippersPage
{
    public ShopPost Post { get; private set; } = new();

    public async Task OnGet(CancellationToken ct)
    {
        var page = await book.Load(ct);
        var shop = page.Shop;
        Post = new()
        {
            Version = shop.Version,
            Currency = shop.Currency,
            Labour = shop.LabourPerHour.ToString(),
            CallOut = shop.CallOutCost.ToString(),
            Haulage = shop.HaulageCost.ToString(),
            LabFee = shop.LabFee.ToString(),
            Downtime = shop.DowntimePerHour.ToString(),
            CareHours = shop.CareHours.ToString(CultureInfo.InvariantCulture),
            HorizonDays = shop.HorizonDays.ToString(CultureInfo.InvariantCulture),
            PailLitres = Quantities.Typed(new Litres(shop.PailLitres)),
            PlanDays = shop.PlanDays.ToString(CultureInfo.InvariantCulture),
            ReservePercent = shop.ReservePercent.ToString(CultureInfo.InvariantCulture),
            RoadPerMinute = shop.RoadPerMinute.ToString(),
            MovingCost = shop.MovingCost.ToString(),
            PartsDays = shop.PartsDays.ToString(CultureInfo.InvariantCulture),
            OneAtATime = shop.OneAtATime,
            DrainHot = shop.DrainHot,
            Vessels = shop.Vessels,
            Fluids = string.Join('\n', page.Fluids.Select(x => $"{x.Name}; {x.PerLitre}")),
        };
    }

    public async Task<IActionResult> OnPost([FromForm(Name = "post")] ShopPost post, CancellationToken ct)
    {
        Post = post;
        var outcome = await book.Save(
            new()
            {
                Version = post.Version,
                Currency = post.Currency,
                Labour = post.Labour,
                CallOut = post.CallOut,
                Haulage = post.Haulage,
                LabFee = post.LabFee,
                Downtime = post.Downtime,
                CareHours = post.CareHours,
                HorizonDays = post.HorizonDays,
                PailLitres = post.PailLitres,
                PlanDays = post.PlanDays,
                ReservePercent = post.ReservePercent,
                RoadPerMinute = post.RoadPerMinute,
                MovingCost = post.MovingCost,
                PartsDays = post.PartsDays,
                OneAtATime = post.OneAtATime,
                DrainHot = post.DrainHot,
                Vessels = post.Vessels,
                Fluids = post.Fluids,
            },
            Actor,
            ct
        );
        if (outcome.Done)
            return Done("/settings/shop", words["Shop.Saved"]);
        Refuse(outcome.Refusals);
        return Page();
    }
}
