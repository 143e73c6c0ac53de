using Microsoft.AspNetCore.Mvc;
using Nippers.Web.Hosting;

namespace Nippers.Web.Pages.Account;

/// <summary>Day or night, kept in a cookie.</summary>
public sealed class ThemeModel : NippersPage
{
    public IActionResult OnGet() => LocalRedirect("/");

    public IActionResult OnPost(string? to, string? back)
    {
        Response.Cookies.Append(
            "nippers-theme",
            to == "night" ? "night" : "day",
            new()
            {
                MaxAge = TimeSpan.FromDays(400),
                SameSite = SameSiteMode.Lax,
                HttpOnly = true,
                IsEssential = true,
            }
        );
        return LocalRedirect(Back(back, "/"));
    }
}
