using Microsoft.AspNetCore.Identity;
using Nippers.App;
using Nippers.Data.People;

namespace Nippers.Web.Hosting;

/// <summary>An account that is made at the start and offered, with its password, on the sign-in page: for trying.</summary>
public sealed record OfferedAccount(string UserName, string FullName, string Role, string Password);

/// <summary>Accounts and roles.</summary>
public static class People
{
    /// <summary>Makes the roles that are missing.</summary>
    public static async Task AddRoles(IServiceProvider services)
    {
        var roles = services.GetRequiredService<RoleManager<IdentityRole>>();
        foreach (var role in Roles.All)
        {
            if (!await roles.RoleExistsAsync(role))
                await roles.CreateAsync(new(role));
        }
    }

    /// <summary>Makes one account.</summary>
    public static async Task<IdentityResult> Add(
        UserManager<NippersUser> users,
        string userName,
        string fullName,
        string role,
        string password
    )
    {
        var user = new NippersUser { UserName = userName, FullName = fullName };
        var made = await users.CreateAsync(user, password);
        return made.Succeeded ? await users.AddToRoleAsync(user, role) : made;
    }

    /// <summary>Makes the accounts that are offered and not there yet.</summary>
    public static async Task AddOffered(IServiceProvider services, IEnumerable<OfferedAccount> offered)
    {
        var users = services.GetRequiredService<UserManager<NippersUser>>();
        foreach (var account in offered)
        {
            if (await users.FindByNameAsync(account.UserName) is null)
                await Add(users, account.UserName, account.FullName, account.Role, account.Password);
        }
    }
}
