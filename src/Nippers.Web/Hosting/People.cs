using Microsoft.AspNetCore.Identity;
using Nippers.App;
using Nippers.Data.People;

namespace Nippers.Web.Hosting;

/// <summary>An account of demo mode, shown on its sign-in page.</summary>
public sealed record DemoAccount(string UserName, string FullName, string Role);

/// <summary>Accounts and roles.</summary>
public static class People
{
    /// <summary>The password of every demo account.</summary>
    public const string DemoPassword = "spring tide";

    public static IReadOnlyList<DemoAccount> DemoAccounts { get; } =
    [new("mara", "Mara Quill", Roles.Planner), new("tam", "Tam Ollery", Roles.Technician), new("ines", "Ines Varrow", Roles.Operator)];

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

    /// <summary>Makes the demo accounts. Demo mode alone calls this.</summary>
    public static async Task AddDemo(IServiceProvider services)
    {
        var users = services.GetRequiredService<UserManager<NippersUser>>();
        foreach (var account in DemoAccounts)
        {
            if (await users.FindByNameAsync(account.UserName) is null)
                await Add(users, account.UserName, account.FullName, account.Role, DemoPassword);
        }
    }
}
