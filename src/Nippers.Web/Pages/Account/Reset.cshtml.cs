using Microsoft.AspNetCore.Identity;
using Microsoft.AspNetCore.Mvc;
using Nippers.App;
using Nippers.App.People;
using Nippers.Data.People;
using Nippers.Views.Text;
using Nippers.Web.Hosting;

namespace Nippers.Web.Pages.Account;

/// <summary>Sets another password with a code that a planner, or the console, has given.</summary>
public sealed class ResetModel(PeopleBook book, UserManager<NippersUser> users, Words words) : NippersPage
{
    public string? UserName { get; private set; }

    public void OnGet() { }

    public async Task<IActionResult> OnPost(string? userName, string? code, string? password, CancellationToken ct)
    {
        UserName = userName;
        var reset = await book.Reset(userName, code, password, Judge, ct);
        if (reset.Done)
            return Done("/sign-in", words["Reset.Done"]);
        Refuse(reset.Refusals);
        return Page();
    }

    private async Task<IReadOnlyList<Refusal>> Judge(NippersUser user, string password)
    {
        var refusals = new List<Refusal>();
        foreach (var judge in users.PasswordValidators)
            refusals.AddRange(PersonRefusals.Of(await judge.ValidateAsync(users, user, password)));
        return [.. refusals.DistinctBy(x => x.Code)];
    }
}
