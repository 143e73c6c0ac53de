using Microsoft.AspNetCore.Identity;
using Microsoft.EntityFrameworkCore;
using Nippers.Data.People;

namespace Nippers.Web.Hosting;

/// <summary>
/// Looks at the names of somebody new. The full name stands behind every record: two of one would be one person, who could clear what
/// takes two.
/// </summary>
public sealed class KnownPeople : IUserValidator<NippersUser>
{
    /// <summary>Longest full name, characters.</summary>
    public const int LongestFullName = 80;

    /// <summary>Longest name to sign in with, characters.</summary>
    public const int LongestUserName = 40;

    /// <summary>What Identity calls a full name that somebody has.</summary>
    public const string FullNameTaken = "FullNameTaken";

    /// <summary>What Identity calls a full name that is too long.</summary>
    public const string FullNameLong = "FullNameLong";

    /// <summary>What Identity calls a name to sign in with that is too long.</summary>
    public const string UserNameLong = "UserNameLong";

    public async Task<IdentityResult> ValidateAsync(UserManager<NippersUser> manager, NippersUser user)
    {
        // Who is known already is not held up by how they are called: switching them off would be refused too.
        if (await manager.Users.AnyAsync(x => x.Id == user.Id))
            return IdentityResult.Success;
        var faults = new List<IdentityError>();
        if (user.FullName.Length > LongestFullName)
            faults.Add(new() { Code = FullNameLong });
        if (user.UserName?.Length > LongestUserName)
            faults.Add(new() { Code = UserNameLong });
        var names = await manager.Users.Select(x => x.FullName).ToListAsync();
        if (names.Exists(x => string.Equals(Plain(x), Plain(user.FullName), StringComparison.OrdinalIgnoreCase)))
            faults.Add(new() { Code = FullNameTaken });
        return faults.Count == 0 ? IdentityResult.Success : IdentityResult.Failed([.. faults]);
    }

    private static string Plain(string name) => string.Join(' ', name.Split((char[]?)null, StringSplitOptions.RemoveEmptyEntries));
}
