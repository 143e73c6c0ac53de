using Nippers.App.Today;
using Nippers.Core.Quick;
using Nippers.Data;

namespace Nippers.App.Machines;

/// <summary>Knows the units of the fleet by name.</summary>
public sealed class UnitNames(NippersDb db)
{
    /// <summary>Why a unit is not known, with those that are near.</summary>
    public async Task<Refusal> Unknown(string unit, CancellationToken ct) =>
        Refusals.NoSuchUnitOrNear("unit", unit, NearestNames.Of(unit, await db.Units(ct)));
}
