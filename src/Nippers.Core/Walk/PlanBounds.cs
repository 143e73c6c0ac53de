namespace Nippers.Core.Walk;

/// <summary>What a plan of a walk may hold: what can be drawn, in a time that nobody waits for.</summary>
public static class PlanBounds
{
    /// <summary>Width of the plan.</summary>
    public const double Wide = 320;

    /// <summary>Height of the plan.</summary>
    public const double High = 240;

    /// <summary>Most stations.</summary>
    public const int MostStations = 20;

    /// <summary>Most parts.</summary>
    public const int MostParts = 60;

    /// <summary>Most compartments that have a place.</summary>
    public const int MostPlaces = 40;

    /// <summary>Whether stations, parts and places of a list lie on the plan, and are not more than it holds.</summary>
    public static bool Fits(CheckList list) =>
        list.Stations.Length <= MostStations
        && list.Parts.Length <= MostParts
        && list.Stations.All(x => IsOn(x.X, x.Y))
        && list.Parts.All(x => IsOn(x.X, x.Y) && x is { Width: > 0 and <= Wide, Height: > 0 and <= High, Angle: >= 0 and < 360 })
        && (list.Places.IsDefault || list.Places.All(x => IsOn(x.X, x.Y)));

    // A number that is none lies nowhere.
    private static bool IsOn(double x, double y) => x is >= 0 and <= Wide && y is >= 0 and <= High;
}
