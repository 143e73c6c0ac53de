using System.Collections.Immutable;
using Nippers.Core.Jobs;

namespace Nippers.App.Visits;

/// <summary>What the tables say of a card that is being worked on. A phone gets it with the card: it reads no tables.</summary>
/// <param name="CoolDown">Minutes after a stop before the coolant may be opened.</param>
/// <param name="WarmLasts">Minutes that a machine stays warm after a run.</param>
/// <param name="Between">What lies between steps.</param>
public sealed record CardRules(int CoolDown, int WarmLasts, ImmutableArray<BetweenRule> Between)
{
    /// <summary>As they ship.</summary>
    public static CardRules Shipped => new(Minutes("coolDown"), Minutes("warmLasts"), JobTables.Between);

    /// <summary>A line of what lies between.</summary>
    public BetweenRule Rule(string code) => Between.Single(x => x.Code == code);

    private static int Minutes(string code) => JobTables.Between.Single(x => x.Code == code).Minutes;
}
